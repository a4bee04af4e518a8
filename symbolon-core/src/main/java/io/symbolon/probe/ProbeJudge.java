// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.handshake.ServerObserver;
import io.symbolon.handshake.TrustManagers;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import javax.net.ssl.SSLSession;

/** Judges what a server showed, as a client with the trust given would. */
final class ProbeJudge {
  /** Problems that don't keep a chain from being trusted. */
  private static final Set<FindingKind> NOT_OF_THE_CHAIN =
      Set.of(
          FindingKind.HOST_NOT_COVERED,
          FindingKind.NO_ALTERNATIVE_NAMES,
          FindingKind.BROKEN_PROTOCOL_VERSION,
          FindingKind.BROKEN_CIPHER_SUITE,
          FindingKind.ADDRESSES_DIFFER,
          FindingKind.NOT_AS_EXPECTED);

  private final HostName host;
  private final Optional<Collection<Certificate>> trust;
  private final Optional<Certificate> expected;
  private final Instant now;

  ProbeJudge(
      HostName host,
      Optional<Collection<Certificate>> trust,
      Optional<Certificate> expected,
      Instant now) {
    this.host = host;
    this.trust = trust;
    this.expected = expected;
    this.now = now;
  }

  /** The certificates of one handshake, and what came of looking at them. */
  private record Judged(
      List<Certificate> sent, ProbeReport.Check covered, ProbeReport.Check trusted) {}

  ProbeReport report(
      ObservedHandshake seen,
      Optional<ObservedHandshake> second,
      List<VersionTaken> versions,
      List<AddressSeen> addresses,
      List<Finding> findings) {
    String where = seen.where();
    ServerObserver observer = seen.observer();
    Optional<SSLSession> session = seen.session();
    Judged judged = judged(observer, where, findings);
    List<Certificate> sent = judged.sent();
    List<Certificate> other = List.of();
    if (second.isPresent()) {
      ServerObserver looked = second.get().observer();
      List<Finding> ofSecond = new ArrayList<>();
      other =
          judged(
                  looked,
                  where
                      + ", its "
                      + looked.read(e -> {}).get(0).publicKey().algorithm()
                      + " certificate",
                  ofSecond)
              .sent();
      findings.addAll(ofSecond);
      second.get().findings().stream()
          .filter(finding -> finding.is(FindingKind.KEY_DOES_NOT_FIT))
          .forEach(findings::add);
    }
    if (expected.isPresent() && !sent.isEmpty()) {
      findings.add(compared(sent.get(0), other, expected.get(), where));
    }
    Optional<Stapled> stapled =
        Stapled.of(session, sent, trust.orElse(List.of()), now, where, findings);
    if (!sent.isEmpty() && trust.isEmpty()) {
      Certificate last = sent.get(sent.size() - 1);
      findings.add(
          Finding.of(
              FindingKind.TRUST_NOT_CHECKED,
              where,
              "Whether clients trust this chain was not checked: no trust was given."
                  + (last.isSelfSigned()
                      ? ""
                      : " They need to know " + last.issuer() + ", where it ends."),
              Remedy.of(
                  "Give the truststore or the authority's certificate.",
                  Action.again(Input.TRUST))));
    }
    findings.sort(Comparator.comparing(Finding::level));
    return new ProbeReport(
        where,
        host.toString(),
        session.map(SSLSession::getProtocol),
        session.map(SSLSession::getCipherSuite),
        sent,
        other,
        judged.trusted(),
        judged.covered(),
        observer.clientCertificateAsked(),
        observer.authoritiesNamed(),
        stapled,
        versions,
        addresses,
        findings);
  }

  private Judged judged(ServerObserver observer, String where, List<Finding> findings) {
    List<Certificate> sent =
        observer.read(
            e ->
                findings.add(
                    Finding.of(
                        FindingKind.SENT_CERTIFICATE_UNREADABLE,
                        where,
                        "One of the certificates that the server sends can't be read here: "
                            + e.seen(),
                        "Have it issued anew; other programs may refuse it, too.")));
    if (sent.isEmpty()) {
      return new Judged(sent, ProbeReport.Check.NOT_MADE, ProbeReport.Check.NOT_MADE);
    }
    Certificate end = sent.get(0);
    ChainExplainer explainer = new ChainExplainer(Side.SERVER, now, where);
    findings.addAll(explainer.certificates(sent));
    Optional<Finding> uncovered = CertificateJudge.host(end, host, where);
    uncovered.ifPresent(findings::add);
    explainer.use(end).ifPresent(findings::add);
    findings.addAll(explainer.order(sent));
    findings.addAll(explainer.path(sent, trust.orElse(List.of())));
    return new Judged(
        sent,
        uncovered.isEmpty() ? ProbeReport.Check.PASSED : ProbeReport.Check.FAILED,
        trust(sent, observer, where, findings));
  }

  /** Whether the server shows the certificate that was deployed, as one of its two. */
  private static Finding compared(
      Certificate first, List<Certificate> other, Certificate expected, String where) {
    boolean bySecond =
        other.stream()
            .limit(1)
            .anyMatch(
                one ->
                    one.equals(expected)
                        || (WithoutKind.of(one) == WithoutKind.of(expected)
                            && !first.equals(expected)));
    Certificate shown = bySecond ? other.get(0) : first;
    if (shown.equals(expected)) {
      return Finding.of(
          FindingKind.AS_EXPECTED,
          where,
          "The server shows exactly the certificate that is expected, with the SHA-256 fingerprint "
              + shown.sha256()
              + ".",
          "");
    }
    return Finding.of(
        FindingKind.NOT_AS_EXPECTED,
        where,
        "The server shows the certificate of "
            + shown.subject().shortText()
            + " with the serial number "
            + shown.serialHex()
            + ", valid until "
            + shown.notAfter()
            + ". Expected is that of "
            + expected.subject().shortText()
            + " with "
            + expected.serialHex()
            + ", valid until "
            + expected.notAfter()
            + (shown.keyId().equals(expected.keyId()) ? "; the key is the same." : "."),
        "Look which file the server is configured with, and whether it was restarted or told to read"
            + " it again.");
  }

  private ProbeReport.Check trust(
      List<Certificate> sent, ServerObserver observer, String where, List<Finding> findings) {
    if (trust.isEmpty()) {
      return ProbeReport.Check.NOT_MADE;
    }
    Optional<String> refusal = platformRefusal(observer, trust.get());
    if (refusal.isEmpty()) {
      return ProbeReport.Check.PASSED;
    }
    List<Finding> reasons = new ChainExplainer(Side.SERVER, now, where).reasons(sent, trust.get());
    findings.addAll(reasons);
    boolean explained =
        !reasons.isEmpty()
            || findings.stream()
                .anyMatch(
                    finding ->
                        finding.level() == Level.PROBLEM
                            && !NOT_OF_THE_CHAIN.contains(finding.kind()));
    if (!explained) {
      findings.add(
          Finding.of(
              FindingKind.REFUSED_BY_PLATFORM,
              where,
              "Java refuses this chain for a reason that is not explained here. It says: "
                  + refusal.get()
                  + ".",
              "Compare the chain with what the authority describes."));
    }
    return ProbeReport.Check.FAILED;
  }

  /** What the platform's own path validation says against the chain, if anything. */
  private static Optional<String> platformRefusal(
      ServerObserver observer, Collection<Certificate> trusted) {
    try {
      TrustManagers.of(trusted, Optional.empty())
          .checkServerTrusted(
              observer.chain().toArray(X509Certificate[]::new), observer.authType());
      return Optional.empty();
    } catch (CertificateException | SymbolonException e) {
      return Optional.of(VisibleText.of(String.valueOf(e.getMessage())));
    }
  }
}
