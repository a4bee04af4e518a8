// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.mariadb;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Attribute;
import io.symbolon.x509.DistinguishedName;
import java.util.List;
import java.util.Set;

/**
 * A certificate's subject as MariaDB compares it: {@code /O=Lanternfish Observatory/CN=buoy-017},
 * in the order of the certificate. What that form can't tell apart is refused.
 */
final class SubjectLine {
  private static final Set<String> NAMES =
      Set.of("CN", "C", "ST", "L", "O", "OU", "DC", "UID", "emailAddress", "serialNumber");

  private SubjectLine() {}

  static String of(DistinguishedName subject) {
    StringBuilder line = new StringBuilder();
    for (List<Attribute> part : subject.parts()) {
      if (part.size() != 1) {
        throw refused(part.toString(), "a part with two values is written in no fixed order");
      }
      Attribute one = part.get(0);
      String typed = one.toString();
      String name = typed.substring(0, typed.indexOf('='));
      if (!NAMES.contains(name) || !one.isText()) {
        throw refused(typed, "how MariaDB writes it is not known");
      }
      String value = one.text();
      if (value.indexOf('/') >= 0 || !value.chars().allMatch(c -> c >= ' ' && c <= '~')) {
        throw refused(typed, "another subject could be written with the same characters");
      }
      line.append('/').append(name).append('=').append(value);
    }
    if (line.isEmpty()) {
      throw refused("(an empty subject)", "there is nothing to know it by");
    }
    return line.toString();
  }

  private static SymbolonException refused(String part, String why) {
    return new SymbolonException(
        Reason.UNSUPPORTED,
        "No account of MariaDB was changed.",
        "The subject can't stand in REQUIRE SUBJECT: " + VisibleText.of(part) + ": " + why + ".",
        "Leave "
            + Input.ROLE.mention()
            + " out. REQUIRE X509 lets in whoever has a certificate of the authorities.");
  }
}
