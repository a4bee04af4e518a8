// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extensions;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.Placeholder;
import io.symbolon.x509.RequestBuilder;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What a certificate is asked for: for whom, with which names, and for what use. Immutable.
 *
 * @param subject for whom; may be empty where there are names
 * @param names the subject alternative names, in their order
 * @param use what for
 */
public record RequestDraft(DistinguishedName subject, List<GeneralName> names, Use use) {
  /** Copies the names. */
  public RequestDraft {
    names = List.copyOf(names);
  }

  /**
   * {@return a draft whose common name is among the subject alternative names, where it is a host:
   * clients look for it there alone (RFC 9525, 2)}
   *
   * @param use what it is for
   */
  public static RequestDraft of(DistinguishedName subject, List<GeneralName> names, Use use) {
    Set<GeneralName> all = new LinkedHashSet<>();
    if (use.isForServers()) {
      commonHost(subject).ifPresent(host -> all.add(GeneralName.ofHost(host.toString())));
    }
    all.addAll(names);
    return new RequestDraft(subject, List.copyOf(all), use);
  }

  /** The common name, where it is a whole host name. */
  static Optional<HostName> commonHost(DistinguishedName subject) {
    try {
      return subject.commonName().map(HostName::parse).filter(HostName::isQualified);
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  /** {@return what a request asks for} */
  public static RequestDraft of(CertificateRequest request) {
    return of(request.subject(), request.extensions());
  }

  /** {@return the same as a certificate has} */
  public static RequestDraft of(Certificate certificate) {
    return of(certificate.subject(), certificate.extensions());
  }

  private static RequestDraft of(DistinguishedName subject, Extensions extensions) {
    List<GeneralName> names = extensions.subjectAlternativeNames();
    boolean host = names.stream().anyMatch(GeneralName::isHost) || commonHost(subject).isPresent();
    Use use = Use.of(extensions).orElse(host ? Use.SERVER : Use.CLIENT);
    return new RequestDraft(subject, names, use);
  }

  /**
   * Without the names that can't be asked for again, since they are only read here.
   *
   * @return a changed copy
   */
  public RequestDraft withoutForeignNames() {
    List<GeneralName> kept = names.stream().filter(GeneralName::isWritten).toList();
    return new RequestDraft(subject, kept, use);
  }

  /**
   * {@return what is wrong with it whoever receives it}
   *
   * @param where what to name in the findings
   */
  public List<Finding> check(String where) {
    List<Finding> findings = new ArrayList<>(SubjectCheck.check(subject, where));
    findings.addAll(NameCheck.check(names, where));
    if (subject.isEmpty() && names.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.SUBJECT_ABSENT,
              where,
              "Neither a subject nor an alternative name says for whom the certificate is.",
              Remedy.of(
                  "Give one of them.", Action.again(Input.SUBJECT), Action.again(Input.HOST))));
    }
    if (names.size() > Limits.ALTERNATIVE_NAMES) {
      findings.add(
          Finding.of(
              FindingKind.TOO_MANY_NAMES,
              where,
              "There are " + names.size() + " subject alternative names.",
              "Ask for several certificates, each with at most "
                  + Limits.ALTERNATIVE_NAMES
                  + " names; servers send all of them in every handshake."));
    }
    if (!use.isForClients()) {
      names.stream()
          .filter(name -> name.kind() == GeneralName.NameForm.EMAIL)
          .findFirst()
          .ifPresent(name -> findings.add(email(name, where)));
    }
    if (use.isForServers() && names.stream().noneMatch(GeneralName::isHost)) {
      findings.add(
          Finding.of(
              FindingKind.NO_ALTERNATIVE_NAMES,
              where,
              "It is for a server and names no host; clients look for the host among the subject"
                  + " alternative names and nowhere else.",
              Remedy.of(
                  "Give the host, or say that it is for a client.",
                  Action.again(Input.HOST),
                  Action.again().with(Input.USE, "client"))));
    }
    return findings;
  }

  private static Finding email(GeneralName name, String where) {
    return Finding.of(
        FindingKind.EMAIL_FOR_SERVER,
        where,
        "The name "
            + VisibleText.of(name.toString())
            + " is for a server's certificate, where no client looks for it. An authority leaves it"
            + " out, as authority sign does, or refuses the request.",
        Remedy.of(
            "Leave it out, or say that it is for a client as well.",
            Action.again().with(Input.USE, "both")));
  }

  /** {@return a request for this, signed with its key} */
  public CertificateRequest sign(PrivateKey key, SubjectPublicKeyInfo publicKey) {
    return RequestBuilder.of(subject, publicKey)
        .keyUsage(use.keyUsages(publicKey))
        .extendedKeyUsage(use.purposes())
        .alternativeNames(names)
        .sign(key);
  }

  /**
   * {@return a certificate that the key signs for itself: with it a key can wait in a keystore,
   * whose readers want one, and it remembers what was asked for}
   *
   * @param now the moment that counts as now
   * @param until how long the certificate that is asked for shall be valid
   * @param random where random numbers come from
   */
  public Certificate placeholder(
      PrivateKey key,
      SubjectPublicKeyInfo publicKey,
      Instant now,
      Instant until,
      SecureRandom random) {
    return selfSigned(publicKey, now, until).comment(Placeholder.COMMENT).signSelf(key, random);
  }

  /**
   * {@return a certificate that the key signs for itself, to be used in a lab}
   *
   * @param now the moment that counts as now
   * @param until the moment it ends
   * @param random where random numbers come from
   */
  public Certificate selfSigned(
      PrivateKey key,
      SubjectPublicKeyInfo publicKey,
      Instant now,
      Instant until,
      SecureRandom random) {
    return selfSigned(publicKey, now, until).signSelf(key, random);
  }

  private CertificateBuilder selfSigned(
      SubjectPublicKeyInfo publicKey, Instant now, Instant until) {
    return CertificateBuilder.of(subject, publicKey)
        .validity(now.minus(Authority.SKEW), until)
        .endEntity()
        .keyUsage(use.keyUsages(publicKey))
        .extendedKeyUsage(use.purposes())
        .alternativeNames(names);
  }
}
