// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.PathJudge;
import io.symbolon.chain.Purpose;
import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.SignatureAlgorithm;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Judges what an authority handed out before it takes the place of anything: by the judges of a
 * survey, for servers, now, and up to a root that is known.
 */
public final class ObtainedCheck {
  private static final String STATEMENT = "The certificate was not taken.";

  private ObtainedCheck() {}

  /**
   * Refuses a chain that a server should not show.
   *
   * @param chain the certificate and those above it, as they came
   * @param trusted the roots that are known besides those of the running Java
   * @param now the moment that counts as now
   * @throws SymbolonException if there is a problem with it, with the first one
   */
  public static void check(List<Certificate> chain, Collection<Certificate> trusted, Instant now) {
    Certificate certificate = chain.get(0);
    if (certificate.isAuthority()) {
      throw refused("The certificate that came is that of an authority, not of a server.");
    }
    if (!CertificateJudge.isForServers(certificate)) {
      throw refused("The certificate that came is not for servers.");
    }
    CertificateJudge judge = new CertificateJudge(now);
    for (Certificate one : chain) {
      problem(judge.judge(one, "")).ifPresent(ObtainedCheck::refuse);
    }
    for (int i = 0; i + 1 < chain.size(); i++) {
      if (chain.get(i).verify(chain.get(i + 1)) != SignatureAlgorithm.Validity.VALID) {
        throw refused(
            VisibleText.of(chain.get(i + 1).subject().shortText())
                + ", which came behind it, has not signed "
                + VisibleText.of(chain.get(i).subject().shortText())
                + ", or that could not be checked.");
      }
    }
    Chain found = path(chain, trusted, now);
    if (!found.isComplete()) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          STATEMENT,
          "It does not lead to a root that is known here: "
              + VisibleText.of(found.last().issuer().shortText())
              + " is missing, and has not come with it.",
          "If that is the root of the authority, name the file with it once: symbolon order "
              + Input.TRUST.mention()
              + " FILE. If it is an intermediate certificate, the authority has to send it.");
    }
    List<Certificate> path = new ArrayList<>(found.certificates());
    found.systemRoot().ifPresent(path::add);
    problem(new PathJudge(List.of(Purpose.SERVER), "").judge(path))
        .ifPresent(ObtainedCheck::refuse);
  }

  /** Only what came leads upwards; what is trusted ends it. */
  private static Chain path(List<Certificate> chain, Collection<Certificate> trusted, Instant now) {
    SystemRoots roots = SystemRoots.ofPlatform().behind(trusted);
    List<Certificate> sent = chain.stream().filter(one -> !one.isSelfSigned()).toList();
    return new ChainFinder(sent, now, roots).from(chain.get(0));
  }

  private static Optional<Finding> problem(List<Finding> findings) {
    return findings.stream().filter(one -> one.level() == Level.PROBLEM).findFirst();
  }

  private static void refuse(Finding finding) {
    throw refused(finding.statement());
  }

  private static SymbolonException refused(String seen) {
    return new SymbolonException(
        Reason.DOES_NOT_FIT,
        STATEMENT,
        seen,
        "Nothing was replaced. Tell whoever runs the authority.");
  }
}
