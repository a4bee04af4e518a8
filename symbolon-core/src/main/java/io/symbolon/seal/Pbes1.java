// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.security.DigestException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;

/** PBES1 (RFC 8018, 6.1): MD5 or SHA-1 with DES or 64-bit RC2. Only ever read by choice. */
final class Pbes1 implements Protection {
  private record Scheme(String digest, BlockCipher cipher) {}

  private static final Map<Oid, Scheme> SCHEMES =
      Map.of(
          Oids.PBE_MD5_DES, new Scheme("MD5", BlockCipher.DES),
          Oids.PBE_SHA1_DES, new Scheme("SHA-1", BlockCipher.DES),
          Oids.PBE_MD5_RC2, new Scheme("MD5", BlockCipher.rc2(8, 64)),
          Oids.PBE_SHA1_RC2, new Scheme("SHA-1", BlockCipher.rc2(8, 64)));

  private final Oid oid;
  private final Scheme scheme;
  private final SaltAndRounds parameters;

  private Pbes1(Oid oid, Scheme scheme, SaltAndRounds parameters) {
    this.oid = oid;
    this.scheme = scheme;
    this.parameters = parameters;
  }

  static boolean knows(Oid oid) {
    return SCHEMES.containsKey(oid);
  }

  static Pbes1 readParameters(Oid oid, Element parameters) {
    Scheme scheme = SCHEMES.get(oid);
    if (scheme == null) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
    }
    SaltAndRounds read = SaltAndRounds.read(parameters);
    if (read.salt().length != 8) {
      throw SymbolonException.malformed(
          "protected content", "Its salt has " + read.salt().length + " octets instead of 8.");
    }
    return new Pbes1(oid, scheme, read);
  }

  @Override
  public Optional<byte[]> open(byte[] sealed, Secret secret) {
    return run(Cipher.DECRYPT_MODE, sealed, secret);
  }

  @Override
  public byte[] seal(byte[] content, Secret secret) {
    return run(Cipher.ENCRYPT_MODE, content, secret).orElseThrow();
  }

  private Optional<byte[]> run(int mode, byte[] input, Secret secret) {
    byte[] derived = derive(secret);
    try {
      byte[] key = Arrays.copyOf(derived, 8);
      byte[] iv = Arrays.copyOfRange(derived, 8, 16);
      return Optional.of(scheme.cipher.run(mode, key, iv, input));
    } catch (BadPaddingException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(derived, (byte) 0);
    }
  }

  /** PBKDF1 (RFC 8018, 5.1). */
  private byte[] derive(Secret secret) {
    byte[] password = secret.revealUtf8();
    try {
      MessageDigest digest = MessageDigest.getInstance(scheme.digest);
      digest.update(password);
      byte[] derived = digest.digest(parameters.salt());
      for (int round = 1; round < parameters.rounds(); round++) {
        digest.update(derived);
        digest.digest(derived, 0, derived.length);
      }
      return derived;
    } catch (NoSuchAlgorithmException | DigestException e) {
      throw new IllegalStateException("the platform lacks " + scheme.digest, e);
    } finally {
      Arrays.fill(password, (byte) 0);
    }
  }

  @Override
  public byte[] encoding() {
    return parameters.encoding(oid);
  }

  @Override
  public long work() {
    return parameters.rounds(); // one block for key and initialisation vector
  }

  @Override
  public int rounds() {
    return parameters.rounds();
  }

  @Override
  public String description() {
    return Oids.nameOrDotted(oid);
  }

  @Override
  public boolean isWeak() {
    return true;
  }
}
