// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;

/** PBES2 (RFC 8018, 6.2): PBKDF2 and a block cipher. */
final class Pbes2 implements Protection {
  private static final Map<Oid, BlockCipher> CIPHERS =
      Map.of(
          Oids.AES128_CBC, BlockCipher.AES_128,
          Oids.AES192_CBC, BlockCipher.AES_192,
          Oids.AES256_CBC, BlockCipher.AES_256,
          Oids.DES_EDE3_CBC, BlockCipher.TRIPLE_DES,
          Oids.DES_CBC, BlockCipher.DES);
  private static final int SALT_OCTETS = 16;

  private final Pbkdf2Parameters derivation;
  private final Oid cipherOid;
  private final BlockCipher cipher;
  private final byte[] iv;

  private Pbes2(Pbkdf2Parameters derivation, Oid cipherOid, BlockCipher cipher, byte[] iv) {
    this.derivation = derivation;
    this.cipherOid = cipherOid;
    this.cipher = cipher;
    this.iv = iv;
  }

  static Pbes2 strong(SecureRandom random, int rounds) {
    byte[] salt = new byte[SALT_OCTETS];
    byte[] iv = new byte[BlockCipher.AES_256.ivLength()];
    random.nextBytes(salt);
    random.nextBytes(iv);
    return new Pbes2(
        new Pbkdf2Parameters(salt, rounds, 0, Oids.HMAC_SHA256),
        Oids.AES256_CBC,
        BlockCipher.AES_256,
        iv);
  }

  static Pbes2 readParameters(Element parameters) {
    Cursor cursor = parameters.cursor(Tags.SEQUENCE);
    Pbkdf2Parameters derivation = Pbkdf2Parameters.read(cursor.next());
    Cursor scheme = cursor.next().cursor(Tags.SEQUENCE);
    Oid cipherOid = scheme.next().oid();
    BlockCipher cipher = CIPHERS.get(cipherOid);
    byte[] iv;
    if (cipher != null) {
      iv = scheme.next().octets();
    } else if (cipherOid.equals(Oids.RC2_CBC)) {
      Cursor rc2 = scheme.next().cursor(Tags.SEQUENCE);
      int version = rc2.nextIs(Tags.INTEGER) ? rc2.next().smallInteger() : 0;
      int bits = rc2Bits(version);
      cipher =
          BlockCipher.rc2(derivation.keyLength() > 0 ? derivation.keyLength() : bits / 8, bits);
      iv = rc2.next().octets();
    } else {
      throw Digests.Unsupported.scheme("PBES2 with " + Oids.nameOrDotted(cipherOid));
    }
    if (iv.length != cipher.ivLength()) {
      throw SymbolonException.malformed(
          "protected content",
          "Its initialisation vector has "
              + iv.length
              + " octets instead of "
              + cipher.ivLength()
              + ".");
    }
    return new Pbes2(derivation, cipherOid, cipher, iv);
  }

  /** RFC 8018, B.2.3: the version number stands for the effective key bits. */
  private static int rc2Bits(int version) {
    return switch (version) {
      case 160 -> 40;
      case 120 -> 64;
      case 58 -> 128;
      case 0 -> 32;
      default -> {
        if (version < 256 || version > 1024) {
          throw Digests.Unsupported.scheme("RC2 of version " + version);
        }
        yield version;
      }
    };
  }

  @Override
  public Optional<byte[]> open(byte[] sealed, Secret secret) {
    byte[] key = derivation.derive(secret, cipher.keyLength());
    try {
      return Optional.of(cipher.run(Cipher.DECRYPT_MODE, key, iv, sealed));
    } catch (BadPaddingException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }

  @Override
  public byte[] seal(byte[] content, Secret secret) {
    byte[] key = derivation.derive(secret, cipher.keyLength());
    try {
      return cipher.run(Cipher.ENCRYPT_MODE, key, iv, content);
    } catch (BadPaddingException e) {
      throw new IllegalStateException("encryption has no padding to be wrong", e);
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }

  @Override
  public byte[] encoding() {
    return Der.sequence(
        Der.oid(Oids.PBES2),
        Der.sequence(derivation.encoding(), Der.sequence(Der.oid(cipherOid), Der.octets(iv))));
  }

  @Override
  public long work() {
    return derivation.work(cipher.keyLength());
  }

  @Override
  public int rounds() {
    return derivation.rounds();
  }

  @Override
  public String description() {
    return "PBES2, " + cipher.name() + ", PBKDF2-" + Oids.nameOrDotted(derivation.hmac());
  }

  @Override
  public boolean isWeak() {
    return cipher.equals(BlockCipher.DES) || cipher.effectiveBits() > 0;
  }
}
