// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import io.symbolon.der.Oids;
import io.symbolon.x509.Certificate;
import java.text.Normalizer;
import java.util.Locale;
import java.util.Set;

/** Makes aliases that a person can read and type: lower case letters, digits, dots and hyphens. */
public final class Aliases {
  private static final int LONGEST = 60;

  private Aliases() {}

  /** {@return an alias from the subject: its common name, else its unit or organisation} */
  public static String readable(Certificate certificate) {
    String name =
        certificate
            .subject()
            .commonName()
            .or(() -> certificate.subject().last(Oids.OU))
            .or(() -> certificate.subject().last(Oids.O))
            .or(() -> certificate.alternativeNames().stream().findFirst().map(host -> host.value()))
            .orElse("certificate");
    String plain =
        Normalizer.normalize(name, Normalizer.Form.NFKD)
            .replaceAll("\\p{M}+", "")
            .toLowerCase(Locale.ROOT)
            .replace("*", "wildcard")
            .replaceAll("[^\\p{L}\\p{N}.]+", "-")
            .replaceAll("^[.-]+|[.-]+$", "");
    if (plain.isEmpty()) {
      return "certificate";
    }
    return plain.length() <= LONGEST
        ? plain
        : plain.substring(0, plain.offsetByCodePoints(0, plain.codePointCount(0, LONGEST)));
  }

  /**
   * {@return a readable alias that is not among {@code taken}, which it joins}
   *
   * @param taken aliases that are taken
   */
  public static String unique(Certificate certificate, Set<String> taken) {
    String base = readable(certificate);
    String alias = base;
    for (int number = 2; !taken.add(alias.toLowerCase(Locale.ENGLISH)); number++) {
      alias = base + "-" + number;
    }
    return alias;
  }
}
