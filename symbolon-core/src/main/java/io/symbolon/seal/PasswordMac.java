// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * The password-based MAC over a PKCS#12 (MacData of RFC 7292, 4): the classic kind with the PKCS#12
 * key derivation, or PBMAC1 (RFC 9579). Immutable.
 */
public final class PasswordMac {
  private static final int SALT_OCTETS = 20;
  private static final int PBMAC1_KEY_OCTETS = 32; // RFC 9579, 5: as long as the digest

  private final Oid digest;
  private final byte[] salt;
  private final int rounds;
  private final byte[] value;
  private final Optional<Pbmac1> pbmac1;

  private record Pbmac1(Pbkdf2Parameters derivation, Oid hmac) {}

  private PasswordMac(Oid digest, byte[] salt, int rounds, byte[] value, Optional<Pbmac1> pbmac1) {
    this.digest = digest;
    this.salt = salt;
    this.rounds = rounds;
    this.value = value;
    this.pbmac1 = pbmac1;
  }

  /**
   * Reads MacData.
   *
   * @param macData the MacData
   * @return the password mac
   * @throws SymbolonException if it is malformed, of an unknown kind, or asks for too many rounds
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static PasswordMac read(Element macData) {
    Cursor cursor = macData.cursor(Tags.SEQUENCE);
    Cursor digestInfo = cursor.next().cursor(Tags.SEQUENCE);
    Cursor algorithm = digestInfo.next().cursor(Tags.SEQUENCE);
    Oid digest = algorithm.next().oid();
    byte[] value = digestInfo.next().octets();
    byte[] salt = cursor.next().octets();
    if (digest.equals(Oids.PBMAC1)) {
      Cursor parameters = algorithm.next().cursor(Tags.SEQUENCE);
      Pbkdf2Parameters derivation = Pbkdf2Parameters.read(parameters.next());
      Oid hmac = parameters.next().cursor(Tags.SEQUENCE).next().oid();
      if (derivation.keyLength() < 20) {
        // RFC 9579, 6: the length must be there, and a key under 20 octets is no protection.
        throw SymbolonException.malformed(
            "integrity check",
            "Its key has " + derivation.keyLength() + " octets; 20 are the least.");
      }
      Digests.hmac(hmac);
      return new PasswordMac(
          digest, salt, derivation.rounds(), value, Optional.of(new Pbmac1(derivation, hmac)));
    }
    Digests.digest(digest);
    int rounds = cursor.hasNext() ? Iterations.read(cursor.next()) : 1;
    return new PasswordMac(digest, salt, rounds, value, Optional.empty());
  }

  /**
   * {@return what checking it costs: the rounds, times the blocks that each computes}
   *
   * @throws SymbolonException if that is more than is carried out
   */
  public long work() {
    return pbmac1.isPresent()
        ? pbmac1.get().derivation().work(pbmac1.get().derivation().keyLength())
        : rounds;
  }

  /** The kinds of MAC that are written. */
  public enum Scheme {
    /** HMAC-SHA-256 with the key derivation of PKCS#12: what Java has read since version 8. */
    SHA256,
    /** HMAC-SHA-1: all that old readers know. */
    SHA1,
    /** PBMAC1 (RFC 9579) with PBKDF2 and HMAC-SHA-256: new, and known to few readers yet. */
    PBMAC1
  }

  /**
   * {@return the MAC over {@code content}, with a fresh salt}
   *
   * @param secret the password
   * @param random where random numbers come from
   * @param rounds how many rounds
   */
  public static PasswordMac over(
      byte[] content, Secret secret, SecureRandom random, int rounds, Scheme kind) {
    byte[] salt = new byte[SALT_OCTETS];
    random.nextBytes(salt);
    if (kind == Scheme.PBMAC1) {
      Pbmac1 pbmac1 =
          new Pbmac1(
              new Pbkdf2Parameters(salt, rounds, PBMAC1_KEY_OCTETS, Oids.HMAC_SHA256),
              Oids.HMAC_SHA256);
      byte[] value = modern(content, secret, pbmac1);
      return new PasswordMac(Oids.PBMAC1, salt, rounds, value, Optional.of(pbmac1));
    }
    Oid digest = kind == Scheme.SHA1 ? Oids.SHA1 : Oids.SHA256;
    PasswordMac empty = new PasswordMac(digest, salt, rounds, new byte[0], Optional.empty());
    byte[] value = empty.classic(content, secret);
    return new PasswordMac(digest, salt, rounds, value, Optional.empty());
  }

  /**
   * {@return whether {@code content} carries this MAC under the password}
   *
   * @param secret the password
   */
  public boolean matches(byte[] content, Secret secret) {
    if (pbmac1.isPresent()) {
      return MessageDigest.isEqual(value, modern(content, secret, pbmac1.get()));
    }
    return MessageDigest.isEqual(value, classic(content, secret))
        || (secret.isEmpty() && MessageDigest.isEqual(value, mac(content, key(new byte[0]))));
  }

  private byte[] classic(byte[] content, Secret secret) {
    byte[] key =
        secret.derived(
            "PKCS#12 " + Digests.digest(digest),
            salt,
            rounds,
            length(),
            () -> {
              byte[] password = secret.terminatedBmp();
              try {
                return key(password);
              } finally {
                Arrays.fill(password, (byte) 0);
              }
            });
    return mac(content, key);
  }

  private byte[] key(byte[] password) {
    String name = Digests.digest(digest);
    return Pkcs12Kdf.derive(name, Pkcs12Kdf.FOR_MAC, password, salt, rounds, length());
  }

  private int length() {
    String name = Digests.digest(digest);
    try {
      return MessageDigest.getInstance(name).getDigestLength();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform lacks " + name, e);
    }
  }

  private byte[] mac(byte[] content, byte[] key) {
    return mac(Digests.hmacOver(Digests.digest(digest)), key, content);
  }

  private static byte[] modern(byte[] content, Secret secret, Pbmac1 pbmac1) {
    byte[] key = pbmac1.derivation.derive(secret, pbmac1.derivation.keyLength());
    return mac(Digests.hmac(pbmac1.hmac), key, content);
  }

  private static byte[] mac(String hmac, byte[] key, byte[] content) {
    try {
      Mac mac = Mac.getInstance(hmac);
      mac.init(new SecretKeySpec(key, hmac));
      return mac.doFinal(content);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("the platform lacks " + hmac, e);
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }

  /**
   * MacData in DER. With PBMAC1 its salt and rounds stand for nothing (RFC 9579, 4).
   *
   * @return the octets
   */
  public byte[] encoding() {
    if (pbmac1.isPresent()) {
      byte[] parameters =
          Der.sequence(
              pbmac1.get().derivation.encoding(),
              Der.sequence(Der.oid(pbmac1.get().hmac), Der.nul()));
      return Der.sequence(
          Der.sequence(Der.sequence(Der.oid(Oids.PBMAC1), parameters), Der.octets(value)),
          Der.octets(salt),
          Der.integer(1));
    }
    return Der.sequence(
        Der.sequence(Der.sequence(Der.oid(digest), Der.nul()), Der.octets(value)),
        Der.octets(salt),
        Der.integer(rounds));
  }

  /** {@return the kind in words, such as {@code HMAC-SHA-256}} */
  public String description() {
    return pbmac1
        .map(modern -> "PBMAC1, " + Oids.nameOrDotted(modern.hmac))
        .orElseGet(() -> "HMAC-" + Oids.nameOrDotted(digest));
  }

  /** {@return the number of derivation rounds} */
  public int rounds() {
    return rounds;
  }
}
