// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.BasicConstraints;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.NameConstraints;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationListBuilder;
import io.symbolon.x509.SignatureAlgorithm;
import java.math.BigInteger;
import java.security.KeyPair;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.regex.Pattern;

/**
 * A certificate authority held in memory: it signs, and its certificates come with their chain.
 * What it signs is recorded nowhere; {@link AuthorityFolder} does that. Thread-safe.
 */
public final class Authority {
  /**
   * How long before its making a certificate is valid: ten minutes. Clocks of machines that nobody
   * synchronises are off by minutes, and a certificate that is not valid yet on its first peer is
   * refused there; more would only make what is said of the time of issue less true.
   */
  public static final Duration SKEW = Duration.ofMinutes(10);

  private static final String LABEL = "[A-Za-z0-9]([A-Za-z0-9-]{0,61}[A-Za-z0-9])?";
  private static final Pattern HOST_LIKE = Pattern.compile(LABEL + "([.]" + LABEL + ")*");

  private final Credential credential;
  private final PrivateKey key;
  private final SecureRandom random;
  private final Published published;

  private Authority(Credential credential, SecureRandom random) {
    this(credential, random, Published.NOTHING);
  }

  private Authority(Credential credential, SecureRandom random, Published published) {
    this.published = published;
    this.credential = credential;
    this.key = credential.key().toPrivateKey();
    this.random = random;
  }

  /**
   * {@return the authority of a credential}
   *
   * @param random where random numbers come from
   * @throws SymbolonException if its certificate is no authority's
   */
  public static Authority of(Credential credential, SecureRandom random) {
    if (!credential.certificate().isAuthority()) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          credential.certificate().subject().shortText() + " can't sign certificates.",
          "Its certificate is not an authority's: the basic constraints do not say so.",
          "Use the certificate of an authority, or found one.");
    }
    return new Authority(credential, random);
  }

  /**
   * {@return the same authority, whose end-entity certificates say where its list is}
   *
   * @param where where it publishes what others fetch
   */
  public Authority publishing(Published where) {
    return new Authority(credential, random, where);
  }

  /**
   * {@return a new root}
   *
   * @param founding what the authority is to be
   * @param now the moment that counts as now
   * @param random where random numbers come from
   */
  public static Authority root(AuthorityPlan founding, Instant now, SecureRandom random) {
    KeyPair pair = founding.kind().generate(random);
    Certificate certificate =
        builder(founding, pair)
            .validity(now.minus(SKEW), founding.lasts().from(now))
            .signSelf(pair.getPrivate(), random);
    return new Authority(Credential.ofPair(pair, List.of(certificate)), random);
  }

  /**
   * {@return a new root without constraints}
   *
   * @param now the moment that counts as now
   * @param lasts how long it is valid
   * @param random where random numbers come from
   */
  public static Authority root(
      DistinguishedName subject, KeyKind kind, Instant now, Duration lasts, SecureRandom random) {
    return root(AuthorityPlan.of(subject, kind, lifetime(lasts)), now, random);
  }

  private static Lifetime lifetime(Duration lasts) {
    return lasts.equals(Duration.ofDays(lasts.toDays()))
        ? Lifetime.days(Math.toIntExact(lasts.toDays()))
        : new Lifetime(Math.toIntExact(lasts.toSeconds()), Lifetime.Unit.SECONDS);
  }

  /**
   * {@return a new intermediate below this authority}
   *
   * @param founding what the authority is to be
   * @param now the moment that counts as now
   * @throws SymbolonException if this authority may have none below it, or is expired
   */
  public Authority intermediate(AuthorityPlan founding, Instant now) {
    checkInTime(now);
    OptionalInt room = room();
    if (room.isPresent() && room.getAsInt() == 0) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "No authority can be founded below " + certificate().subject().shortText() + ".",
          "The path lengths of its chain allow no intermediate below it.",
          "Found it below a higher authority, or issue end-entity certificates here.");
    }
    KeyPair pair = founding.kind().generate(random);
    int most = room.isPresent() ? room.getAsInt() - 1 : Integer.MAX_VALUE;
    int wanted = founding.pathLength().orElse(most);
    AuthorityPlan fitted =
        room.isPresent() || founding.pathLength().isPresent()
            ? founding.withPathLength(Math.min(wanted, most))
            : founding;
    Certificate certificate =
        builder(fitted, pair)
            .validity(start(now), end(now, founding.lasts()))
            .sign(certificate(), key, random);
    return new Authority(Credential.ofPair(pair, chainOf(certificate)), random);
  }

  /**
   * {@return a new intermediate below this authority, which itself may have none below}
   *
   * @param now the moment that counts as now
   * @param lasts how long it is valid
   */
  public Authority intermediate(
      DistinguishedName subject, KeyKind kind, Instant now, Duration lasts) {
    return intermediate(AuthorityPlan.of(subject, kind, lifetime(lasts)).withPathLength(0), now);
  }

  private static CertificateBuilder builder(AuthorityPlan founding, KeyPair pair) {
    return CertificateBuilder.of(founding.subject(), SubjectPublicKeyInfo.of(pair.getPublic()))
        .authority(founding.pathLength())
        .nameConstraints(founding.constraints());
  }

  /** How many intermediates its chain lets follow below it. */
  private OptionalInt room() {
    OptionalInt room = OptionalInt.empty();
    List<Certificate> chain = credential.chain();
    for (int above = 0; above < chain.size(); above++) {
      OptionalInt allowed =
          chain
              .get(above)
              .extensions()
              .basicConstraints()
              .map(BasicConstraints::pathLength)
              .orElse(OptionalInt.empty());
      if (allowed.isPresent()) {
        int left = Math.max(0, allowed.getAsInt() - above);
        room = OptionalInt.of(Math.min(left, room.orElse(left)));
      }
    }
    return room;
  }

  /**
   * {@return what would be said of an order: a lifetime that is cut, a name it may not sign for}
   *
   * @param order what is to be signed
   * @param now the moment that counts as now
   * @param where what to name in the findings
   */
  public List<Finding> judge(SigningOrder order, Instant now, String where) {
    List<Finding> findings = new ArrayList<>(order.draft().check(where));
    for (Certificate link : credential.chain()) {
      NameConstraints constraints =
          link.extensions().nameConstraints().orElse(NameConstraints.none());
      for (GeneralName name : judgedNames(order.draft())) {
        Optional<String> refusal = constraints.refusal(name, link.subject().shortText());
        if (refusal.isPresent()) {
          boolean common = !order.draft().names().contains(name);
          findings.add(
              Finding.of(
                  FindingKind.NAME_NOT_PERMITTED,
                  where,
                  (common ? "The common name " : "")
                      + VisibleText.of(common ? name.value() : name.toString())
                      + (common ? ", which clients take for a host," : "")
                      + " "
                      + refusal.get()
                      + ".",
                  common
                      ? Remedy.of(
                          "Add a permitted host to the alternative names; then they don't.",
                          Action.again(Input.HOST))
                      : Remedy.of(
                          "Leave the name out, or have another authority sign it; every client would"
                              + " refuse the certificate.")));
        }
      }
    }
    // A certificate has whole seconds.
    Instant wanted = order.lasts().from(now).truncatedTo(ChronoUnit.SECONDS);
    if (wanted.isAfter(certificate().notAfter())) {
      findings.add(
          Finding.of(
              FindingKind.LIFETIME_CUT,
              where,
              "It must be valid until "
                  + wanted
                  + ", but "
                  + certificate().subject().shortText()
                  + " is valid only until "
                  + certificate().notAfter()
                  + ": so is the certificate.",
              "Ask for less, or found a new authority in time."));
    }
    return findings;
  }

  /**
   * The names that constraints are applied to: where no alternative name is a host, Java takes a
   * common name that looks like one.
   */
  private static List<GeneralName> judgedNames(RequestDraft draft) {
    List<GeneralName> names = new ArrayList<>(draft.names());
    Optional<String> common = draft.subject().commonName().filter(HOST_LIKE.asMatchPredicate());
    if (common.isPresent()) {
      GeneralName host = GeneralName.ofHost(common.get());
      if (names.stream().noneMatch(name -> name.kind() == host.kind())) {
        names.add(host);
      }
    }
    return names;
  }

  /**
   * Signs an end-entity certificate: basic constraints that say it is no authority's, key usage and
   * extended key usage for its use, both key identifiers, the names, a random serial number.
   *
   * @param order what is to be signed
   * @param now the moment that counts as now
   * @return the certificate
   * @throws SymbolonException if it is expired, or the order must not be signed: {@link #judge}
   */
  public Certificate sign(SigningOrder order, SubjectPublicKeyInfo publicKey, Instant now) {
    checkInTime(now);
    Optional<String> defect = publicKey.defect();
    if (defect.isPresent()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The certificate of " + order.draft().subject().shortText() + " was not signed.",
          "Its public key is broken. " + defect.get(),
          "Have a new key made, and a new request.");
    }
    for (Finding finding : judge(order, now, "")) {
      if (finding.level() == io.symbolon.finding.Level.PROBLEM) {
        throw new SymbolonException(
            Reason.INVALID_ARGUMENT,
            "The certificate of " + order.draft().subject().shortText() + " was not signed.",
            finding.statement(),
            finding.remedy());
      }
    }
    RequestDraft draft = order.draft();
    CertificateBuilder builder =
        CertificateBuilder.of(draft.subject(), publicKey)
            .validity(start(now), end(now, order.lasts()))
            .endEntity()
            .keyUsage(draft.use().keyUsages(publicKey))
            .extendedKeyUsage(draft.use().purposes())
            .alternativeNames(draft.names());
    for (Extension one : published.extensions()) {
      builder = builder.add(one);
    }
    return builder.sign(certificate(), key, random);
  }

  /**
   * Signs an end-entity certificate for hosts.
   *
   * @param use what it is for
   * @param now the moment that counts as now
   * @param lasts how long it is valid
   * @return the certificate
   */
  public Certificate sign(
      DistinguishedName subject,
      SubjectPublicKeyInfo publicKey,
      List<HostName> hosts,
      Use use,
      Instant now,
      Duration lasts) {
    return sign(order(subject, hosts, use, lasts), publicKey, now);
  }

  private static SigningOrder order(
      DistinguishedName subject, List<HostName> hosts, Use use, Duration lasts) {
    List<GeneralName> names =
        hosts.stream().map(host -> GeneralName.ofHost(host.toString())).distinct().toList();
    return new SigningOrder(new RequestDraft(subject, names, use), lifetime(lasts));
  }

  /**
   * Makes a key and signs its certificate in one go. The chain goes up to the root.
   *
   * @param order what is to be signed
   * @param now the moment that counts as now
   * @return the credential
   */
  public Credential issue(SigningOrder order, KeyKind kind, Instant now) {
    KeyPair pair = kind.generate(random);
    return Credential.ofPair(
        pair, chainOf(sign(order, SubjectPublicKeyInfo.of(pair.getPublic()), now)));
  }

  /**
   * {@return the same for hosts}
   *
   * @param use what it is for
   * @param now the moment that counts as now
   * @param lasts how long it is valid
   */
  public Credential issue(
      DistinguishedName subject,
      KeyKind kind,
      List<HostName> hosts,
      Use use,
      Instant now,
      Duration lasts) {
    return issue(order(subject, hosts, use, lasts), kind, now);
  }

  /**
   * A certificate that has been revoked.
   *
   * @param serial its serial number
   * @param when when it was revoked
   * @param reason why
   */
  public record Revocation(
      BigInteger serial, Instant when, io.symbolon.x509.RevocationReason reason) {}

  /**
   * {@return a revocation list}
   *
   * @param revoked what is revoked
   * @param number larger than that of any list before it
   * @param now the moment that counts as now
   * @param lasts how long it is valid
   */
  public RevocationList revocationList(
      Collection<Revocation> revoked, BigInteger number, Instant now, Lifetime lasts) {
    RevocationListBuilder builder =
        RevocationListBuilder.of(certificate(), now, lasts.from(now), number);
    revoked.forEach(one -> builder.revoke(one.serial(), one.when(), one.reason()));
    return builder.sign(key);
  }

  private void checkInTime(Instant now) {
    if (now.isAfter(certificate().notAfter()) || now.isBefore(certificate().notBefore())) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          certificate().subject().shortText() + " can't sign now.",
          "It is valid from "
              + certificate().notBefore()
              + " to "
              + certificate().notAfter()
              + "; now it is "
              + now.truncatedTo(ChronoUnit.SECONDS)
              + ".",
          "Found a new authority, or check the clock of this machine.");
    }
  }

  private Instant start(Instant now) {
    Instant wanted = now.minus(SKEW);
    return wanted.isBefore(certificate().notBefore()) ? certificate().notBefore() : wanted;
  }

  private Instant end(Instant now, Lifetime lasts) {
    Instant wanted = lasts.from(now);
    return wanted.isAfter(certificate().notAfter()) ? certificate().notAfter() : wanted;
  }

  /** {@return a certificate that it signed, and its own chain up to the root} */
  public List<Certificate> chainOf(Certificate certificate) {
    List<Certificate> chain = new ArrayList<>(List.of(certificate));
    chain.addAll(credential.chain());
    return chain;
  }

  /**
   * {@return whether it has signed a certificate}
   *
   * @param one the certificate
   */
  public boolean hasSigned(Certificate one) {
    return hasSigned(certificate(), one);
  }

  /**
   * {@return whether an authority has signed a certificate}
   *
   * @param authority the authority's certificate
   * @param one the certificate
   */
  public static boolean hasSigned(Certificate authority, Certificate one) {
    return one.issuer().equals(authority.subject())
        && one.verify(authority) == SignatureAlgorithm.Validity.VALID;
  }

  /** {@return its own certificate} */
  public Certificate certificate() {
    return credential.certificate();
  }

  /** {@return its private key} */
  public PrivateKey key() {
    return key;
  }

  /** {@return its key and its chain up to the root} */
  public Credential credential() {
    return credential;
  }
}
