// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** What an authority has to say of the key, and of the signature, that a request comes with. */
final class RequestedKey {
  /** Findings about something unusual, which is signed only after a question. */
  static final Set<FindingKind> UNUSUAL =
      Set.of(FindingKind.UNUSUAL_KEY, FindingKind.WEAK_REQUEST_SIGNATURE);

  private RequestedKey() {}

  static List<Finding> judge(CertificateRequest request, String where) {
    List<Finding> findings = new ArrayList<>();
    SubjectPublicKeyInfo key = request.publicKey();
    Optional<String> broken = key.defect();
    if (broken.isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.BROKEN_KEY,
              where,
              "Its key (" + key.description() + ") is broken. " + broken.get(),
              "Have a new key made on another machine, and a new request."));
    } else if (key.weakness().isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_KEY,
              where,
              "Its key (" + key.description() + ") is too weak. " + key.weakness().get(),
              "Have a new request made with a new key."));
    } else if (key.hasSmallExponent()) {
      findings.add(
          Finding.of(
              FindingKind.UNUSUAL_KEY,
              where,
              "The public exponent of its key is smaller than 65537, with which careless programs"
                  + " are broken.",
              Remedy.of(
                  "Have a new key made, or sign it all the same.",
                  Action.again(Input.SIGN_ALL_THE_SAME))));
    }
    String algorithm = request.signatureAlgorithm().name();
    if (algorithm.startsWith("MD")) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_REQUEST_SIGNATURE,
              Level.PROBLEM,
              where,
              "The request is signed with "
                  + algorithm
                  + ", which can be forged: it does not prove"
                  + " that whoever sent it has the key.",
              "Have the request made again; every program of today signs with SHA-256."));
    } else if (request.signatureAlgorithm().isWeak()) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_REQUEST_SIGNATURE,
              Level.WARNING,
              where,
              "The request is signed with "
                  + algorithm
                  + ", which is weak proof today that the sender has the key.",
              Remedy.of(
                  "Have the request made again, or sign it all the same.",
                  Action.again(Input.SIGN_ALL_THE_SAME))));
    }
    return findings;
  }
}
