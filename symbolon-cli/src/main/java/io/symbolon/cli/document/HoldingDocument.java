// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Something that a file holds. Which fields there are depends on its kind. */
public record HoldingDocument(
    @JsonPropertyDescription(
            "private-key, public-key, certificate, request, revocation-list or secret-key.")
        String kind,
    @JsonPropertyDescription("Where in the file it lies.") Optional<String> position,
    Optional<String> alias,
    @JsonPropertyDescription("The fingerprint, SHA-256 in hexadecimal.") Optional<String> sha256,
    @JsonPropertyDescription("The fingerprint of its public key.") Optional<String> keyId,
    Optional<String> subject,
    Optional<String> issuer,
    Optional<String> serial,
    Optional<String> notBefore,
    Optional<String> notAfter,
    Optional<List<String>> hosts,
    Optional<String> algorithm,
    @JsonPropertyDescription("Whether a private key is protected by a password.")
        Optional<Boolean> encrypted,
    @JsonPropertyDescription("How many certificates a list revokes; with --details.")
        Optional<Integer> revoked,
    @JsonPropertyDescription("The signature's algorithm; with --details.")
        Optional<String> signature,
    @JsonPropertyDescription("The extensions; with --details.")
        Optional<List<ExtensionDocument>> extensions) {

  /** The fingerprint of a match's public key, from what proves it. */
  static Optional<String> keyId(Match match) {
    return match.certificates().stream()
        .findFirst()
        .map(certificate -> certificate.keyId())
        .or(
            () ->
                match.requests().stream()
                    .findFirst()
                    .map(request -> request.request().publicKey().keyId()));
  }

  /** Writes the holdings of one survey. */
  static final class Writer {
    private final Map<Holding.PrivateKey, String> keyIds = new HashMap<>();
    private final boolean details;

    Writer(Survey survey, boolean details) {
      this.details = details;
      for (Match match : survey.matches()) {
        Optional<String> id = keyId(match);
        for (Holding.PrivateKey key : match.keys()) {
          id.ifPresent(known -> keyIds.put(key, known));
        }
      }
    }

    HoldingDocument of(Holding holding) {
      Fields fields = new Fields(holding);
      if (holding instanceof Holding.PrivateKey key) {
        fields.kind = "private-key";
        fields.keyId =
            key.key()
                .flatMap(PrivateKeyInfo::publicHalf)
                .map(SubjectPublicKeyInfo::keyId)
                .or(() -> Optional.ofNullable(keyIds.get(key)))
                .or(
                    () ->
                        key.key()
                            .flatMap(PrivateKeyInfo::computedPublicHalf)
                            .map(SubjectPublicKeyInfo::keyId));
        fields.algorithm = key.key().map(PrivateKeyInfo::description);
        fields.encrypted = Optional.of(key.encrypted());
      } else if (holding instanceof Holding.PublicKey key) {
        fields.kind = "public-key";
        fields.sha256 = Optional.of(key.key().keyId());
        fields.keyId = fields.sha256;
        fields.algorithm = Optional.of(key.key().description());
      } else if (holding instanceof Holding.Cert cert) {
        fields.kind = "certificate";
        fields.certificate(CertificateDocument.of(cert.certificate()));
        if (details) {
          fields.signature = Optional.of(cert.certificate().signatureAlgorithm().name());
          fields.extensions = Optional.of(ExtensionDocument.all(cert.certificate().extensions()));
        }
      } else if (holding instanceof Holding.Request one) {
        var request = one.request();
        fields.kind = "request";
        fields.sha256 = Optional.of(request.sha256());
        fields.keyId = Optional.of(request.publicKey().keyId());
        fields.subject = Optional.of(request.subject().toString());
        fields.hosts =
            Optional.of(CertificateDocument.hosts(request.extensions().subjectAlternativeNames()));
        fields.algorithm = Optional.of(request.publicKey().description());
        if (details) {
          fields.signature = Optional.of(request.signatureAlgorithm().name());
          fields.extensions = Optional.of(ExtensionDocument.all(request.extensions()));
        }
      } else if (holding instanceof Holding.Crl crl) {
        fields.kind = "revocation-list";
        fields.sha256 = Optional.of(crl.list().sha256());
        fields.issuer = Optional.of(crl.list().issuer().toString());
        fields.notBefore = Optional.of(crl.list().thisUpdate().toString());
        fields.notAfter = crl.list().nextUpdate().map(Object::toString);
        if (details) {
          fields.revoked = Optional.of(crl.list().size());
          fields.extensions = Optional.of(ExtensionDocument.all(crl.list().extensions()));
        }
      }
      return fields.document();
    }
  }

  /** The fields while they are being filled in. */
  private static final class Fields {
    private final Holding holding;
    private String kind = "secret-key";
    private Optional<String> sha256 = Optional.empty();
    private Optional<String> keyId = Optional.empty();
    private Optional<String> subject = Optional.empty();
    private Optional<String> issuer = Optional.empty();
    private Optional<String> serial = Optional.empty();
    private Optional<String> notBefore = Optional.empty();
    private Optional<String> notAfter = Optional.empty();
    private Optional<List<String>> hosts = Optional.empty();
    private Optional<String> algorithm = Optional.empty();
    private Optional<Boolean> encrypted = Optional.empty();
    private Optional<Integer> revoked = Optional.empty();
    private Optional<String> signature = Optional.empty();
    private Optional<List<ExtensionDocument>> extensions = Optional.empty();

    Fields(Holding holding) {
      this.holding = holding;
    }

    void certificate(CertificateDocument certificate) {
      sha256 = Optional.of(certificate.sha256());
      keyId = Optional.of(certificate.keyId());
      subject = Optional.of(certificate.subject());
      issuer = Optional.of(certificate.issuer());
      serial = Optional.of(certificate.serial());
      notBefore = Optional.of(certificate.notBefore());
      notAfter = Optional.of(certificate.notAfter());
      hosts = Optional.of(certificate.hosts());
      algorithm = Optional.of(certificate.algorithm());
    }

    HoldingDocument document() {
      String position = holding.place().position();
      return new HoldingDocument(
          kind,
          position.isEmpty() ? Optional.empty() : Optional.of(position),
          holding.alias(),
          sha256,
          keyId,
          subject,
          issuer,
          serial,
          notBefore,
          notAfter,
          hosts,
          algorithm,
          encrypted,
          revoked,
          signature,
          extensions);
    }
  }
}
