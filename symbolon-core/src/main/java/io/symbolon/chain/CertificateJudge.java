// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is to be said of one certificate, and of a chain, at a moment. Immutable. */
public final class CertificateJudge {
  /** Certificates that expire within this time are worth a warning. */
  public static final Duration SOON = Duration.ofDays(30);

  private static final int DELETE = 0x7f;

  private final Instant now;
  private final Duration soon;

  /**
   * A judge at the moment {@code now}, who warns {@link #SOON} before a certificate expires.
   *
   * @param now the moment that counts as now
   */
  public CertificateJudge(Instant now) {
    this(now, SOON);
  }

  /**
   * A judge with another threshold.
   *
   * @param now the moment that counts as now
   * @param soon how long before its end a certificate is said to expire soon
   */
  public CertificateJudge(Instant now, Duration soon) {
    this.now = now;
    this.soon = soon;
  }

  /** {@return the moment for which validity is judged} */
  public Instant now() {
    return now;
  }

  /** What one program reads to its end, another reads to the first NUL. */
  private static Optional<Finding> control(Certificate certificate, String where, String name) {
    return certificate.alternativeNames().stream()
        .map(GeneralName::value)
        .filter(value -> value.chars().anyMatch(c -> c < ' ' || c == DELETE))
        .findFirst()
        .map(
            value ->
                Finding.of(
                    FindingKind.NAME_WITH_CONTROL,
                    where,
                    "The certificate of "
                        + name
                        + " has the name "
                        + VisibleText.of(value)
                        + ", with a NUL or another control character in it: some programs read it"
                        + " only as far as that.",
                    "Do not use it. Ask the authority how it came to be."));
  }

  /**
   * Validity, strength and names of one certificate.
   *
   * @param where the place to name in the findings
   * @return them
   */
  public List<Finding> judge(Certificate certificate, String where) {
    List<Finding> findings = new ArrayList<>();
    String name = certificate.subject().shortText();
    validity(certificate, where, name).ifPresent(findings::add);
    control(certificate, where, name).ifPresent(findings::add);
    certificate
        .publicKey()
        .weakness()
        .ifPresent(
            why ->
                findings.add(
                    Finding.of(
                        FindingKind.WEAK_KEY,
                        where,
                        "The key of "
                            + name
                            + " ("
                            + certificate.publicKey().description()
                            + ") is too weak. "
                            + why,
                        "Make a new key, RSA 3072 or EC P-256, and ask for a new certificate.")));
    if (certificate.signatureAlgorithm().isWeak() && !signedItself(certificate)) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_SIGNATURE,
              where,
              "The certificate of "
                  + name
                  + " is signed with "
                  + certificate.signatureAlgorithm().name()
                  + ", which can be forged.",
              "Ask its authority to issue it again with SHA-256."));
    }
    boolean signs = certificate.isAuthority() || signsCertificates(certificate);
    if (!signs && isForServers(certificate) && namesNoHost(certificate)) {
      findings.add(
          Finding.of(
              FindingKind.NO_ALTERNATIVE_NAMES,
              where,
              "The certificate of "
                  + name
                  + " has no subject alternative names; clients look for the"
                  + " host there and no longer in the common name.",
              "Ask for a certificate that has the host among its subject alternative names."));
    }
    for (String fault : certificate.encodingFaults()) {
      findings.add(
          Finding.of(
              FindingKind.ENCODING_FAULT,
              where,
              "The encoding of the certificate of "
                  + name
                  + " breaks the rules. "
                  + fault
                  + " Most programs let that pass; a strict one may refuse it.",
              "Ask its authority for one without the fault when it is renewed."));
    }
    for (var oid : certificate.extensions().damaged()) {
      findings.add(
          Finding.of(
              FindingKind.DAMAGED_EXTENSION,
              where,
              "The " + Oids.nameOrDotted(oid) + " of " + name + " can't be read.",
              "Ask its authority to issue it again."));
    }
    return findings.stream().map(one -> one.about(it -> it.with(List.of(certificate)))).toList();
  }

  /** An authority's, too, where its basic constraints are missing or wrong. */
  private static boolean signsCertificates(Certificate certificate) {
    return certificate
        .extensions()
        .keyUsage()
        .filter(usages -> usages.contains(KeyUsage.CERTIFICATE_SIGNING))
        .filter(usages -> !usages.contains(KeyUsage.DIGITAL_SIGNATURE))
        .isPresent();
  }

  /** The signature of a root over itself is never relied on; that of a renewed authority is. */
  private static boolean signedItself(Certificate certificate) {
    return certificate.isSelfIssued() && certificate.verify(certificate) == Validity.VALID;
  }

  private Optional<Finding> validity(Certificate certificate, String where, String name) {
    return validityFinding(certificate, where, name)
        .map(
            finding ->
                finding.about(
                    it ->
                        it.at(
                            finding.is(FindingKind.NOT_YET_VALID)
                                ? certificate.notBefore()
                                : certificate.notAfter())));
  }

  private Optional<Finding> validityFinding(Certificate certificate, String where, String name) {
    if (now.isAfter(certificate.notAfter())) {
      return Optional.of(
          Finding.of(
              FindingKind.EXPIRED,
              where,
              "The certificate of " + name + " expired on " + day(certificate.notAfter()) + ".",
              certificate.isAuthority()
                  ? "Ask the authority for its current certificate."
                  : "Ask for a new certificate."));
    }
    if (now.isBefore(certificate.notBefore())) {
      return Optional.of(
          Finding.of(
              FindingKind.NOT_YET_VALID,
              where,
              "The certificate of "
                  + name
                  + " is valid only from "
                  + certificate.notBefore()
                  + " on.",
              "Wait until then, or check the clock of this machine: it says "
                  + now.truncatedTo(ChronoUnit.SECONDS)
                  + "."));
    }
    if (now.plus(soon).isAfter(certificate.notAfter())) {
      long days = Duration.between(now, certificate.notAfter()).toDays();
      return Optional.of(
          Finding.of(
              FindingKind.EXPIRES_SOON,
              where,
              "The certificate of "
                  + name
                  + " expires in "
                  + days
                  + (days == 1 ? " day" : " days")
                  + ", on "
                  + day(certificate.notAfter())
                  + ".",
              "Ask for a new certificate now."));
    }
    return Optional.empty();
  }

  private static LocalDate day(Instant instant) {
    return LocalDate.ofInstant(instant, ZoneOffset.UTC);
  }

  /** {@return whether extended key usage lets a server use it} */
  public static boolean isForServers(Certificate certificate) {
    return certificate
        .extensions()
        .extendedKeyUsage()
        .map(u -> u.contains(Oids.SERVER_AUTH) || u.contains(Oids.ANY_USAGE))
        .orElse(true);
  }

  private static boolean namesNoHost(Certificate certificate) {
    return certificate.alternativeNames().stream().noneMatch(GeneralName::isHost);
  }

  /**
   * {@return whether a certificate covers a host}
   *
   * @param where the place to name, such as a file; may be empty
   */
  public static Optional<Finding> host(Certificate certificate, HostName host, String where) {
    if (host.isCoveredBy(certificate.alternativeNames())) {
      return Optional.empty();
    }
    return Optional.of(
        Finding.of(
                FindingKind.HOST_NOT_COVERED,
                where,
                "The certificate of "
                    + certificate.subject().shortText()
                    + " does not cover "
                    + host
                    + ". It covers "
                    + covered(certificate)
                    + ".",
                "Ask for a certificate with "
                    + host
                    + " among its subject alternative names, or use a name it covers.")
            .about(it -> it.with(List.of(certificate)).naming(host.toString())));
  }

  /**
   * {@return the finding for a key and a certificate that could not be made to prove that they fit}
   *
   * @param where the place to name, such as a file; may be empty
   */
  public static Finding fitNotChecked(Certificate certificate, String where) {
    return Finding.of(
        FindingKind.FIT_NOT_CHECKED,
        where,
        "Whether key and certificate fit was not proven: this Java can't compute with "
            + certificate.publicKey().description()
            + ".",
        "Use a Java that has the algorithm.");
  }

  /** {@return the hosts that a certificate covers, in words} */
  public static String covered(Certificate certificate) {
    List<String> hosts =
        certificate.alternativeNames().stream()
            .filter(GeneralName::isHost)
            .map(name -> VisibleText.of(name.value()))
            .toList();
    if (hosts.isEmpty()) {
      return "no host at all";
    }
    return hosts.size() <= 5
        ? String.join(", ", hosts)
        : String.join(", ", hosts.subList(0, 5)) + " and " + (hosts.size() - 5) + " more";
  }
}
