// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import io.symbolon.entry.StoreEntry;
import java.util.List;
import java.util.Optional;

/** The document of convert. */
public record ConvertDocument(
    String command,
    @JsonUnwrapped WrittenDocument written,
    List<WrittenEntry> entries,
    int requests,
    int publicKeys,
    List<FindingDocument> findings) {
  /** An entry that was written. Which fields there are depends on its kind. */
  public record WrittenEntry(
      Optional<String> alias,
      String kind,
      @JsonPropertyDescription("The kind of a private key.") Optional<String> algorithm,
      @JsonPropertyDescription("The certificates of a private key, end-entity first.")
          Optional<List<CertificateDocument>> chain,
      @JsonPropertyDescription("Whether a certificate is one that is trusted.")
          Optional<Boolean> trusted,
      @JsonPropertyDescription("The certificate.") Optional<CertificateDocument> certificate,
      @JsonPropertyDescription("The fingerprint of a certificate or a revocation list.")
          Optional<String> sha256) {
    /** The fields of an entry. */
    public static WrittenEntry of(StoreEntry entry) {
      if (entry instanceof StoreEntry.KeyEntry key) {
        return new WrittenEntry(
            entry.name(),
            "private-key",
            Optional.of(key.key().description()),
            Optional.of(CertificateDocument.all(key.chain())),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
      }
      if (entry instanceof StoreEntry.Crl crl) {
        return new WrittenEntry(
            entry.name(),
            "revocation-list",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.of(crl.list().sha256()));
      }
      CertificateDocument certificate =
          CertificateDocument.of(
              entry instanceof StoreEntry.Trusted trusted
                  ? trusted.certificate()
                  : ((StoreEntry.Plain) entry).certificate());
      return new WrittenEntry(
          entry.name(),
          "certificate",
          Optional.empty(),
          Optional.empty(),
          Optional.of(entry instanceof StoreEntry.Trusted),
          Optional.of(certificate),
          Optional.of(certificate.sha256()));
    }
  }
}
