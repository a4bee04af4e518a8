// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** What must not stand among the alternative names of a certificate, whoever asks for it. */
final class NameCheck {
  /** Schemes by which a program that follows the URI would run something. */
  private static final Set<String> RUN = Set.of("javascript", "vbscript", "data");

  private NameCheck() {}

  static List<Finding> check(List<GeneralName> names, String where) {
    List<Finding> findings = new ArrayList<>();
    for (GeneralName name : names) {
      wrong(name)
          .ifPresent(
              why ->
                  findings.add(
                      Finding.of(
                          FindingKind.NAME_NOT_ALLOWED,
                          where,
                          "The name " + VisibleText.of(name.toString()) + " " + why,
                          "Leave the name out.")));
    }
    return findings;
  }

  private static Optional<String> wrong(GeneralName name) {
    String value = name.value();
    return switch (name.kind()) {
      case DNS -> host(value);
      case EMAIL, URI -> text(name.kind(), value);
      case IP, DIRECTORY, REGISTERED_ID, OTHER -> Optional.empty();
    };
  }

  private static Optional<String> host(String value) {
    if (value.startsWith("*.") && value.indexOf('.', 2) < 0) {
      return Optional.of("stands for all hosts of a whole registry.");
    }
    return HostName.isAddressText(value)
        ? Optional.of(
            "is an address that is called a DNS name; some clients take it for the address.")
        : Optional.empty();
  }

  private static Optional<String> text(GeneralName.NameForm kind, String value) {
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      if (c <= ' ' || c >= 0x7F) {
        return Optional.of(
            "has a character in it that such a name can't have: "
                + String.format(Locale.ROOT, "U+%04X.", (int) c));
      }
    }
    int colon = value.indexOf(':');
    if (kind == GeneralName.NameForm.URI) {
      if (colon < 1 || !value.substring(0, colon).matches("[A-Za-z][A-Za-z0-9+.-]*")) {
        return Optional.of("is a URI without a scheme.");
      }
      if (RUN.contains(value.substring(0, colon).toLowerCase(Locale.ROOT))) {
        return Optional.of("is a URI by which a program that follows it would run something.");
      }
    }
    return Optional.empty();
  }
}
