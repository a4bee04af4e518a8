package io.symbolon.issue;

import io.symbolon.Finding;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** What an authority has to say of the key, and of the signature, that a request comes with. */
final class RequestedKey {
  /** Findings about something unusual, which is signed only after a question. */
  static final Set<String> UNUSUAL = Set.of("unusual-key", "weak-request-signature");

  private RequestedKey() {}

  static List<Finding> judge(CertificateRequest request, String where) {
    List<Finding> findings = new ArrayList<>();
    SubjectPublicKeyInfo key = request.publicKey();
    Optional<String> broken = key.defect();
    if (broken.isPresent()) {
      findings.add(
          Finding.problem(
              "broken-key",
              where,
              "Its key (" + key.description() + ") is broken. " + broken.get(),
              "Have a new key made on another machine, and a new request."));
    } else if (key.weakness().isPresent()) {
      findings.add(
          Finding.problem(
              "weak-key",
              where,
              "Its key (" + key.description() + ") is too weak. " + key.weakness().get(),
              "Have a new request made with a new key."));
    } else if (key.hasSmallExponent()) {
      findings.add(
          Finding.warning(
              "unusual-key",
              where,
              "The public exponent of its key is smaller than 65537, with which careless programs"
                  + " are broken.",
              "Have a new key made, or say --yes to sign it all the same."));
    }
    String algorithm = request.signatureAlgorithm().name();
    if (algorithm.startsWith("MD")) {
      findings.add(
          Finding.problem(
              "weak-request-signature",
              where,
              "The request is signed with "
                  + algorithm
                  + ", which can be forged: it does not prove"
                  + " that whoever sent it has the key.",
              "Have the request made again; every program of today signs with SHA-256."));
    } else if (request.signatureAlgorithm().isWeak()) {
      findings.add(
          Finding.warning(
              "weak-request-signature",
              where,
              "The request is signed with "
                  + algorithm
                  + ", which proves little today that whoever"
                  + " sent it has the key.",
              "Have the request made again, or say --yes to sign it all the same."));
    }
    return findings;
  }
}
