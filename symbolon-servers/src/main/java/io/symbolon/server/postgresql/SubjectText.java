// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Attribute;
import io.symbolon.x509.DistinguishedName;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * A certificate's subject as PostgreSQL writes it for {@code clientname=DN}: the form of RFC 2253,
 * in which every octet beyond ASCII is escaped.
 */
final class SubjectText {
  /** The short names that differ from those of RFC 4519. */
  private static final Map<String, String> OTHERWISE =
      Map.of("STREET", "street", "givenName", "GN");

  private SubjectText() {}

  static String of(DistinguishedName subject) {
    List<String> parts = new ArrayList<>();
    for (List<Attribute> part : reversed(subject.parts())) {
      parts.add(reversed(part).stream().map(SubjectText::of).collect(Collectors.joining("+")));
    }
    return String.join(",", parts);
  }

  private static <T> List<T> reversed(List<T> all) {
    List<T> other = new ArrayList<>(all);
    Collections.reverse(other);
    return other;
  }

  private static String of(Attribute one) {
    String typed = one.toString();
    String name = typed.substring(0, typed.indexOf('='));
    if (Character.isDigit(name.charAt(0)) || !one.isText()) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "No line for pg_ident.conf was made. Nothing was changed.",
          "How PostgreSQL writes the part " + VisibleText.of(one.toString()) + " is not known.",
          "Leave "
              + Input.ROLE.mention()
              + " out, and write the line by hand: the server's log tells the subject.");
    }
    return OTHERWISE.getOrDefault(name, name) + '=' + escaped(one.text());
  }

  private static String escaped(String text) {
    StringBuilder out = new StringBuilder();
    byte[] octets = text.getBytes(StandardCharsets.UTF_8);
    for (int i = 0; i < octets.length; i++) {
      int c = octets[i] & 0xFF;
      boolean end = i == 0 || i == octets.length - 1;
      if (c < ' ' || c > '~') {
        out.append(String.format("\\%02X", c));
      } else {
        if (",+\"\\<>;".indexOf(c) >= 0 || (c == ' ' && end) || (c == '#' && i == 0)) {
          out.append('\\');
        }
        out.append((char) c);
      }
    }
    return out.toString();
  }
}
