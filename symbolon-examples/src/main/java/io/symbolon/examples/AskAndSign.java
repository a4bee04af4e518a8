// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.ReceivedRequest;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.List;
import java.util.Optional;

/**
 * Asks for a certificate, signs it with an authority that is founded in a folder, and revokes it.
 */
public final class AskAndSign {
  private AskAndSign() {}

  /** Runs the example in the folder that is named, or in a temporary one. */
  public static void main(String[] arguments) throws IOException {
    Path folder =
        arguments.length > 0 ? Path.of(arguments[0]) : Files.createTempDirectory("symbolon");
    run(folder, System.out);
  }

  static void run(Path folder, PrintStream out) {
    SecureRandom random = new SecureRandom();

    // The side that asks: a key, and a request for what is checked before it is signed.
    KeyPair pair = KeyKind.EC_P256.generate(random);
    RequestDraft draft =
        RequestDraft.of(
            DistinguishedName.parse("CN=ingest.lanternfish.example,O=Lanternfish Observatory"),
            List.of(GeneralName.ofHost("192.0.2.17")),
            Use.SERVER);
    List<Finding> wrong = draft.check("ingest.csr");
    out.println("wrong with the draft: " + wrong.size());
    CertificateRequest request =
        draft.sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic()));

    // The authority: a folder whose register knows all that it ever signed.
    try (Secret seal = Secret.of("not for production".toCharArray(), "example")) {
      SigningAuthority authority =
          SigningAuthority.found(
              folder.resolve("root"),
              AuthorityPlan.of(
                  DistinguishedName.parse("CN=Lanternfish Root"),
                  KeyKind.EC_P384,
                  Lifetime.years(10)),
              Optional.empty(),
              seal,
              random,
              Clock.systemUTC());
      ReceivedRequest intake =
          ReceivedRequest.of(request, Optional.empty(), List.of(), "ingest.csr");
      Certificate certificate =
          authority.sign(new SigningOrder(intake.draft(), Lifetime.days(90)), request.publicKey());
      out.println("signed: " + certificate.subject() + " " + certificate.alternativeNames());

      authority.revoke(List.of(certificate), RevocationReason.SUPERSEDED, Lifetime.days(30));
      var ledger = authority.folder().reconcile();
      out.println(
          "issued: "
              + ledger.issued().size()
              + ", on the revocation list: "
              + ledger.list().orElseThrow().size());
    }
  }
}
