// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.words;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.RequestDraft;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Locale;

/** How tasks speak of things. */
public final class Wording {
  private Wording() {}

  /** What came from outside, such as a path, safe to show. */
  public static String shown(Object text) {
    return VisibleText.of(text.toString());
  }

  /** A subject in a sentence. */
  public static String name(DistinguishedName name) {
    String text = name.shortText();
    return text.isEmpty() ? "(no subject)" : text;
  }

  /** A day, in UTC. */
  public static LocalDate day(Instant instant) {
    return LocalDate.ofInstant(instant, ZoneOffset.UTC);
  }

  /** A number and what is counted. Formatters are slow to load, and most counts are small. */
  public static String count(long count, String one) {
    String number = count < 1000 ? Long.toString(count) : String.format(Locale.ROOT, "%,d", count);
    return number + " " + one + (count == 1 ? "" : "s");
  }

  /** The first label of the host, or what the common name leaves. */
  public static String fileName(RequestDraft draft) {
    String name =
        draft
            .subject()
            .commonName()
            .or(() -> draft.names().stream().findFirst().map(GeneralName::value))
            .orElse("request");
    return fileName(typed(name), "request");
  }

  /** The first label of a host; another word where nothing of the name is safe in a file name. */
  public static String fileName(String name, String otherwise) {
    String safe = FileNames.safe(name);
    boolean dotted = safe.contains(".") && !safe.matches("[0-9.]+");
    String first = dotted ? safe.substring(0, safe.indexOf('.')) : safe;
    return first.isEmpty() ? otherwise : first;
  }

  /** An international host in its own letters: its encoded form names no file well. */
  private static String typed(String name) {
    try {
      return name.contains("xn--") ? HostName.parse(name).typed() : name;
    } catch (SymbolonException e) {
      return name;
    }
  }
}
