package io.symbolon.issue;

import io.symbolon.chain.Credential;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.key.KeyKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.KeyUsage;
import java.security.KeyPair;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.OptionalInt;
import java.util.Set;

/**
 * A certificate authority held in memory: it signs, and its certificates come with their chain.
 * Thread-safe.
 */
public final class Authority {
  /** How long before its making a certificate is valid, for peers whose clock is behind. */
  public static final Duration SKEW = Duration.ofMinutes(10);

  private final Credential credential;
  private final PrivateKey key;
  private final SecureRandom random;

  private Authority(Credential credential, SecureRandom random) {
    this.credential = credential;
    this.key = credential.key().toPrivateKey();
    this.random = random;
  }

  /** What an end-entity certificate is for. */
  public enum Use {
    /** A TLS server. */
    SERVER,
    /** A TLS client. */
    CLIENT,
    /** Both. */
    BOTH;

    private Oid[] usages() {
      return switch (this) {
        case SERVER -> new Oid[] {Oids.SERVER_AUTH};
        case CLIENT -> new Oid[] {Oids.CLIENT_AUTH};
        case BOTH -> new Oid[] {Oids.SERVER_AUTH, Oids.CLIENT_AUTH};
      };
    }
  }

  /**
   * A new root.
   *
   * @param subject its name
   * @param kind the kind of its key
   * @param now the moment it is made at
   * @param lasts how long it is valid
   */
  public static Authority root(
      DistinguishedName subject, KeyKind kind, Instant now, Duration lasts, SecureRandom random) {
    KeyPair pair = kind.generate(random);
    Certificate certificate =
        CertificateBuilder.of(subject, SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(now.minus(SKEW), now.plus(lasts))
            .authority(OptionalInt.empty())
            .signSelf(pair.getPrivate(), random);
    return new Authority(
        Credential.of(PrivateKeyInfo.of(pair.getPrivate()), List.of(certificate)), random);
  }

  /** A new intermediate below this authority, which itself may have none below. */
  public Authority intermediate(
      DistinguishedName subject, KeyKind kind, Instant now, Duration lasts) {
    KeyPair pair = kind.generate(random);
    Certificate certificate =
        CertificateBuilder.of(subject, SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(start(now), end(now, lasts))
            .authority(OptionalInt.of(0))
            .sign(certificate(), key, random);
    return new Authority(
        Credential.of(PrivateKeyInfo.of(pair.getPrivate()), chainOf(certificate)), random);
  }

  /**
   * Signs an end-entity certificate. It never outlives this authority's own.
   *
   * @param hosts the hosts it covers
   */
  public Certificate sign(
      DistinguishedName subject,
      SubjectPublicKeyInfo publicKey,
      List<HostName> hosts,
      Use use,
      Instant now,
      Duration lasts) {
    Set<GeneralName> names = new LinkedHashSet<>();
    hosts.forEach(host -> names.add(GeneralName.ofHost(host.toString())));
    Set<KeyUsage> usages = EnumSet.of(KeyUsage.DIGITAL_SIGNATURE);
    if (publicKey.algorithm().oid().equals(Oids.RSA)) {
      usages.add(KeyUsage.KEY_ENCIPHERMENT); // TLS 1.2 with RSA key exchange still asks for it
    }
    return CertificateBuilder.of(subject, publicKey)
        .validity(start(now), end(now, lasts))
        .endEntity()
        .keyUsage(usages)
        .extendedKeyUsage(use.usages())
        .alternativeNames(names)
        .sign(certificate(), key, random);
  }

  /** Makes a key and signs its certificate in one go. The chain goes up to the root. */
  public Credential issue(
      DistinguishedName subject,
      KeyKind kind,
      List<HostName> hosts,
      Use use,
      Instant now,
      Duration lasts) {
    KeyPair pair = kind.generate(random);
    Certificate certificate =
        sign(subject, SubjectPublicKeyInfo.of(pair.getPublic()), hosts, use, now, lasts);
    return Credential.of(PrivateKeyInfo.of(pair.getPrivate()), chainOf(certificate));
  }

  private Instant start(Instant now) {
    Instant wanted = now.minus(SKEW);
    return wanted.isBefore(certificate().notBefore()) ? certificate().notBefore() : wanted;
  }

  private Instant end(Instant now, Duration lasts) {
    Instant wanted = now.plus(lasts);
    return wanted.isAfter(certificate().notAfter()) ? certificate().notAfter() : wanted;
  }

  private List<Certificate> chainOf(Certificate certificate) {
    List<Certificate> chain = new ArrayList<>(List.of(certificate));
    chain.addAll(credential.chain());
    return chain;
  }

  /** Its own certificate. */
  public Certificate certificate() {
    return credential.certificate();
  }

  /** Its key and its chain up to the root. */
  public Credential credential() {
    return credential;
  }
}
