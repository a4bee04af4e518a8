// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Signed;
import io.symbolon.task.words.Wording;
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
    return e.within(
        "The keys of "
            + Wording.count(certificates.size(), "certificate")
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
        ? e.within(
            "The certificate was signed, but its file was not written.",
            folder
                .certificates()
                .map(file -> " The certificate is the last one in " + Wording.shown(file) + ".")
                .orElse(" The certificate is the last one on record."))
        : e;
  }
}
