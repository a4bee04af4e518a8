// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;

/** The encryption schemes of PKCS#12 itself (RFC 7292, C): SHA-1 with 3DES, RC2 or RC4. */
final class Pkcs12Pbe implements Protection {
  private static final Map<Oid, BlockCipher> CIPHERS =
      Map.of(
          Oids.PKCS12_3DES, BlockCipher.TRIPLE_DES,
          Oids.PKCS12_2DES, BlockCipher.TWO_KEY_3DES,
          Oids.PKCS12_RC2_128, BlockCipher.rc2(16, 128),
          Oids.PKCS12_RC2_40, BlockCipher.rc2(5, 40),
          Oids.PKCS12_RC4_128, BlockCipher.rc4(16),
          Oids.PKCS12_RC4_40, BlockCipher.rc4(5));

  private static final int SALT_OCTETS = 20;

  private static final int SHA1_OCTETS = 20;

  private final Oid oid;
  private final BlockCipher cipher;
  private final SaltAndRounds parameters;

  private Pkcs12Pbe(Oid oid, BlockCipher cipher, SaltAndRounds parameters) {
    this.oid = oid;
    this.cipher = cipher;
    this.parameters = parameters;
  }

  static Pkcs12Pbe tripleDes(SecureRandom random, int rounds) {
    byte[] salt = new byte[SALT_OCTETS];
    random.nextBytes(salt);
    return new Pkcs12Pbe(Oids.PKCS12_3DES, BlockCipher.TRIPLE_DES, new SaltAndRounds(salt, rounds));
  }

  static boolean knows(Oid oid) {
    return CIPHERS.containsKey(oid);
  }

  static Pkcs12Pbe readParameters(Oid oid, Element parameters) {
    BlockCipher cipher = CIPHERS.get(oid);
    if (cipher == null) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
    }
    return new Pkcs12Pbe(oid, cipher, SaltAndRounds.read(parameters));
  }

  @Override
  public Optional<byte[]> open(byte[] sealed, Secret secret) {
    byte[] password = secret.terminatedBmp();
    try {
      Optional<byte[]> opened = run(Cipher.DECRYPT_MODE, sealed, password);
      // Some programs take the empty password for no octets, others for the two zero octets.
      return opened.isEmpty() && secret.isEmpty()
          ? run(Cipher.DECRYPT_MODE, sealed, new byte[0])
          : opened;
    } finally {
      Arrays.fill(password, (byte) 0);
    }
  }

  @Override
  public byte[] seal(byte[] content, Secret secret) {
    byte[] password = secret.terminatedBmp();
    try {
      return run(Cipher.ENCRYPT_MODE, content, password).orElseThrow();
    } finally {
      Arrays.fill(password, (byte) 0);
    }
  }

  private Optional<byte[]> run(int mode, byte[] input, byte[] password) {
    byte[] key =
        Pkcs12Kdf.derive(
            "SHA-1",
            Pkcs12Kdf.FOR_KEY,
            password,
            parameters.salt(),
            parameters.rounds(),
            cipher.keyLength());
    byte[] iv =
        Pkcs12Kdf.derive(
            "SHA-1",
            Pkcs12Kdf.FOR_IV,
            password,
            parameters.salt(),
            parameters.rounds(),
            cipher.ivLength());
    try {
      return Optional.of(cipher.run(mode, key, iv, input));
    } catch (BadPaddingException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }

  @Override
  public byte[] encoding() {
    return parameters.encoding(oid);
  }

  @Override
  public long work() {
    return Iterations.work(parameters.rounds(), cipher.keyLength(), SHA1_OCTETS)
        + Iterations.work(parameters.rounds(), cipher.ivLength(), SHA1_OCTETS);
  }

  @Override
  public int rounds() {
    return parameters.rounds();
  }

  @Override
  public String description() {
    return Oids.nameOrDotted(oid) + " with SHA-1";
  }

  @Override
  public boolean isWeak() {
    return true; // SHA-1 throughout, and at best 112 bits of a 64-bit block cipher
  }
}
