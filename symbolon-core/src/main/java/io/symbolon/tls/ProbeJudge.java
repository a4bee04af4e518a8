package io.symbolon.tls;

import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Oids;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.SignatureAlgorithm.Verdict;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import javax.net.ssl.SSLSession;

/** Judges what a server showed, as a client with the trust given would. */
final class ProbeJudge {
  private final HostName host;
  private final Optional<Collection<Certificate>> trust;
  private final Instant now;

  ProbeJudge(HostName host, Optional<Collection<Certificate>> trust, Instant now) {
    this.host = host;
    this.trust = trust;
    this.now = now;
  }

  ProbeReport report(
      String where, Optional<SSLSession> session, Observer observer, List<Finding> findings) {
    List<Certificate> sent = new ArrayList<>();
    for (X509Certificate certificate : observer.chain()) {
      sent.add(Certificate.of(certificate));
    }
    ProbeReport.Check covered = ProbeReport.Check.NOT_MADE;
    ProbeReport.Check trusted = ProbeReport.Check.NOT_MADE;
    if (!sent.isEmpty()) {
      Certificate end = sent.get(0);
      CertificateJudge judge = new CertificateJudge(now);
      sent.forEach(certificate -> findings.addAll(judge.judge(certificate, where)));
      Optional<Finding> uncovered = CertificateJudge.host(end, host, where);
      uncovered.ifPresent(findings::add);
      covered = uncovered.isEmpty() ? ProbeReport.Check.PASSED : ProbeReport.Check.FAILED;
      use(end, where).ifPresent(findings::add);
      findings.addAll(order(sent, where));
      trusted = trust(sent, observer, where, findings);
    }
    if (!sent.isEmpty() && trust.isEmpty()) {
      findings.add(
          Finding.warning(
              "trust-not-checked",
              where,
              "Whether clients trust this chain was not checked: no trust was given.",
              "Give the truststore or the authority's certificate with --trust FILE."));
    }
    findings.sort(Comparator.comparing(Finding::level));
    return new ProbeReport(
        where,
        host.toString(),
        session.map(SSLSession::getProtocol),
        session.map(SSLSession::getCipherSuite),
        sent,
        trusted,
        covered,
        observer.clientCertificateAsked(),
        findings);
  }

  private static Optional<Finding> use(Certificate end, String where) {
    if (CertificateJudge.isForServers(end)) {
      return Optional.empty();
    }
    String usages =
        end.extensions().extendedKeyUsage().orElse(List.of()).stream()
            .map(Oids::nameOrDotted)
            .collect(Collectors.joining(", "));
    return Optional.of(
        Finding.problem(
            "not-for-servers",
            where,
            "The certificate of "
                + end.subject().shortText()
                + " is not for TLS servers; it is for: "
                + usages
                + ".",
            "Ask for a certificate for a server."));
  }

  /** Whether each certificate is signed by the one sent after it (RFC 8446, 4.4.2). */
  private static List<Finding> order(List<Certificate> sent, String where) {
    for (int i = 1; i < sent.size(); i++) {
      if (sent.get(i - 1).verify(sent.get(i)) != Verdict.INVALID) {
        continue;
      }
      return List.of(
          Finding.warning(
              "chain-order",
              where,
              "The server sends its certificates in the wrong order or a stranger among them: "
                  + sent.get(i).subject().shortText()
                  + " did not sign "
                  + sent.get(i - 1).subject().shortText()
                  + ".",
              "Put the server's chain in order with symbolon join, and configure the server with"
                  + " the result."));
    }
    Certificate last = sent.get(sent.size() - 1);
    if (sent.size() > 1 && last.isSelfIssued()) {
      return List.of(
          Finding.note(
              "root-sent",
              where,
              "The server sends the root "
                  + last.subject().shortText()
                  + " as well, which clients ignore.",
              ""));
    }
    return List.of();
  }

  private ProbeReport.Check trust(
      List<Certificate> sent, Observer observer, String where, List<Finding> findings) {
    if (trust.isEmpty()) {
      return ProbeReport.Check.NOT_MADE;
    }
    Optional<String> refusal = platformRefusal(observer, trust.get());
    if (refusal.isEmpty()) {
      return ProbeReport.Check.PASSED;
    }
    List<Finding> reasons = reasons(sent, trust.get(), where);
    findings.addAll(reasons);
    boolean explained =
        !reasons.isEmpty()
            || findings.stream()
                .anyMatch(
                    f ->
                        f.id().equals("expired")
                            || f.id().equals("not-yet-valid")
                            || f.id().equals("weak-key")
                            || f.id().equals("weak-signature")
                            || f.id().equals("not-for-servers"));
    if (!explained) {
      findings.add(
          Finding.problem(
              "refused-by-platform",
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
      Observer observer, Collection<Certificate> trusted) {
    try {
      TlsContexts.trustManager(trusted)
          .checkServerTrusted(
              observer.chain().toArray(X509Certificate[]::new), observer.authType());
      return Optional.empty();
    } catch (CertificateException | SymbolonException e) {
      return Optional.of(VisibleText.of(String.valueOf(e.getMessage())));
    }
  }

  private List<Finding> reasons(
      List<Certificate> sent, Collection<Certificate> trusted, String where) {
    Certificate end = sent.get(0);
    Chain asSent = new ChainFinder(sent, now, SystemRoots.none()).from(end);
    List<Certificate> all = new ArrayList<>(sent);
    all.addAll(trusted);
    Chain withTrust = new ChainFinder(all, now, SystemRoots.none()).from(end);
    boolean reaches = withTrust.certificates().stream().anyMatch(trusted::contains);
    if (reaches) {
      return new CertificateJudge(now).links(withTrust.certificates(), where);
    }
    String trustNames =
        trusted.stream()
            .limit(4)
            .map(c -> c.subject().shortText())
            .collect(Collectors.joining(", "));
    if (asSent.endsInRoot() || asSent.last().isAuthority()) {
      String root =
          asSent.endsInRoot()
              ? asSent.last().subject().toString()
              : asSent.last().issuer().toString();
      return List.of(
          Finding.problem(
              "root-not-trusted",
              where,
              "The chain leads to "
                  + root
                  + ", which is not in the trust given ("
                  + trustNames
                  + ").",
              "If you trust it, get its certificate from the authority and add it: symbolon truststore"
                  + " AUTHORITY-FILE --add --into TRUSTSTORE"));
    }
    return List.of(
        Finding.problem(
            "issuer-not-sent",
            where,
            "The server sends the certificate of "
                + end.subject().shortText()
                + " without the one that issued it: "
                + asSent.last().issuer()
                + "; from it no way leads to the trust given ("
                + trustNames
                + ").",
            "Join the server's key, certificate and that intermediate with symbolon join, and"
                + " configure the server with the result."));
  }
}
