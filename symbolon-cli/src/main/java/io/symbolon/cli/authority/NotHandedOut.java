// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Signed;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.stream.Collectors;

/** Tells of what is on record and was not handed out, because its files did not get their names. */
final class NotHandedOut {
  private static final int LISTED = 10;

  private NotHandedOut() {}

  /** Of credentials, whose keys nobody has. */
  static SymbolonException credentials(
      Signed<?> signed, List<Certificate> certificates, SymbolonException e) {
    if (!signed.isRecorded()) {
      return e;
    }
    String serials =
        certificates.stream()
            .limit(LISTED)
            .map(Certificate::serialHex)
            .collect(Collectors.joining(" "));
    return told(
        e,
        "The keys of "
            + HoldingText.count(certificates.size(), "certificate")
            + " are lost: they are on record, and their files were not written.",
        " Revoke them, and issue others: "
            + serials
            + (certificates.size() > LISTED
                ? " and the next " + (certificates.size() - LISTED) + " of symbolon authority list."
                : "."));
  }

  /** Of a signed request: the certificate itself can be fetched. */
  static SymbolonException reply(Signed<?> signed, AuthorityFolder folder, SymbolonException e) {
    return signed.isRecorded()
        ? told(
            e,
            "The certificate was signed, but its file was not written.",
            folder
                .certificates()
                .map(file -> " The certificate is the last one in " + Output.shown(file) + ".")
                .orElse(" The certificate is the last one on record."))
        : e;
  }

  private static SymbolonException told(SymbolonException e, String statement, String advice) {
    return new SymbolonException(
        e.reason(),
        statement,
        e.statement() + " " + e.seen(),
        new Remedy(e.remedy().advice() + advice, e.remedy().actions()),
        e);
  }
}
