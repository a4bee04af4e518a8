// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.oid.Oid;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;
import javax.crypto.IllegalBlockSizeException;
import javax.crypto.SecretKey;
import javax.crypto.SecretKeyFactory;
import javax.crypto.spec.PBEKeySpec;
import javax.crypto.spec.PBEParameterSpec;

/**
 * How Java's older keystores seal a private key, inside an EncryptedPrivateKeyInfo with an
 * identifier of their own.
 *
 * <p>JKS: a stream of SHA-1 digests, each of the password (two octets a character, big end first)
 * and the digest before, the first of a salt of 20 octets; the key is XORed with it. In front
 * stands the salt, behind it SHA-1 over the password and the open key, which tells the right
 * password. JCEKS: MD5 and 3DES, by a cipher that the platform has.
 */
public final class JavaKeyProtection {
  private static final int DIGEST = 20; // octets of SHA-1, and of the salt
  private static final int JCEKS_SALT = 8; // octets

  private final Oid oid;
  private final Optional<PBEParameterSpec> parameters;
  private final byte[] sealed;

  private JavaKeyProtection(Oid oid, Optional<PBEParameterSpec> parameters, byte[] sealed) {
    this.oid = oid;
    this.parameters = parameters;
    this.sealed = sealed;
  }

  /**
   * Reads the EncryptedPrivateKeyInfo of a JKS or JCEKS keystore; nothing is decrypted.
   *
   * @param encryptedPrivateKeyInfo the encoding of an EncryptedPrivateKeyInfo
   * @return the java key protection
   * @throws io.symbolon.failure.SymbolonException if it is none, or sealed in another way
   */
  public static JavaKeyProtection read(byte[] encryptedPrivateKeyInfo) {
    Cursor cursor = Element.read(encryptedPrivateKeyInfo).cursor(Tags.SEQUENCE);
    Cursor identifier = cursor.next().cursor(Tags.SEQUENCE);
    byte[] sealed = cursor.next().octets();
    cursor.end();
    Oid oid = identifier.next().oid();
    if (oid.equals(Oids.JKS_KEY)) {
      return new JavaKeyProtection(oid, Optional.empty(), sealed);
    }
    if (oid.equals(Oids.JCEKS_KEY)) {
      Cursor values = identifier.next().cursor(Tags.SEQUENCE);
      byte[] salt = values.next().octets();
      int rounds = Iterations.read(values.next());
      return new JavaKeyProtection(oid, Optional.of(new PBEParameterSpec(salt, rounds)), sealed);
    }
    throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
  }

  /**
   * Seals a PrivateKeyInfo as a JKS keystore does.
   *
   * @param open the PrivateKeyInfo
   * @param secret the password
   * @param random where random numbers come from
   * @return the java key protection
   */
  public static JavaKeyProtection sealJks(byte[] open, Secret secret, SecureRandom random) {
    byte[] sealed = new byte[open.length + 2 * DIGEST];
    byte[] salt = new byte[DIGEST];
    random.nextBytes(salt);
    System.arraycopy(salt, 0, sealed, 0, DIGEST);
    System.arraycopy(open, 0, sealed, DIGEST, open.length);
    byte[] password = characters(secret);
    try {
      xorWithStream(sealed, password);
      MessageDigest sha1 = MessageDigest.getInstance("SHA-1");
      sha1.update(password);
      byte[] check = sha1.digest(open);
      System.arraycopy(check, 0, sealed, DIGEST + open.length, DIGEST);
      return new JavaKeyProtection(Oids.JKS_KEY, Optional.empty(), sealed);
    } catch (GeneralSecurityException e) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(Oids.JKS_KEY));
    } finally {
      Arrays.fill(password, (byte) 0);
    }
  }

  /**
   * Seals a PrivateKeyInfo as a JCEKS keystore does.
   *
   * @param open the PrivateKeyInfo
   * @param secret the password
   * @param random where random numbers come from
   * @param rounds the number of derivation rounds
   * @return the java key protection
   * @throws io.symbolon.failure.SymbolonException if the password holds characters outside of ASCII
   */
  public static JavaKeyProtection sealJceks(
      byte[] open, Secret secret, SecureRandom random, int rounds) {
    byte[] salt = new byte[JCEKS_SALT];
    random.nextBytes(salt);
    PBEParameterSpec values = new PBEParameterSpec(salt, rounds);
    try {
      byte[] sealed =
          runJceks(Cipher.ENCRYPT_MODE, open, secret, values)
              .orElseThrow(
                  () ->
                      new io.symbolon.failure.SymbolonException(
                          io.symbolon.failure.Reason.INVALID_ARGUMENT,
                          "The private key can't be sealed with this password.",
                          "The password from "
                              + secret.source()
                              + " holds characters outside of ASCII, which JCEKS does not know.",
                          "Choose a password of ASCII letters, digits and signs."));
      return new JavaKeyProtection(Oids.JCEKS_KEY, Optional.of(values), sealed);
    } catch (GeneralSecurityException e) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(Oids.JCEKS_KEY));
    }
  }

  /** {@return the EncryptedPrivateKeyInfo, in DER} */
  public byte[] encoding() {
    byte[] identifier =
        parameters
            .map(
                values ->
                    Der.sequence(
                        Der.oid(oid),
                        Der.sequence(
                            Der.octets(values.getSalt()), Der.integer(values.getIterationCount()))))
            .orElseGet(() -> Der.sequence(Der.oid(oid), Der.nul()));
    return Der.sequence(identifier, Der.octets(sealed));
  }

  /** {@return the number of derivation rounds: for JKS the one that there is} */
  public int rounds() {
    return parameters.map(PBEParameterSpec::getIterationCount).orElse(1);
  }

  /**
   * {@return the PrivateKeyInfo inside, or nothing where the password is not the right one}
   *
   * @param secret the password
   */
  public Optional<byte[]> open(Secret secret) {
    try {
      return parameters.isPresent()
          ? runJceks(Cipher.DECRYPT_MODE, sealed, secret, parameters.get())
          : openJks(secret);
    } catch (GeneralSecurityException e) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
    }
  }

  /** {@return the scheme in words} */
  public String description() {
    return Oids.nameOrDotted(oid);
  }

  private Optional<byte[]> openJks(Secret secret) throws GeneralSecurityException {
    int length = sealed.length - 2 * DIGEST;
    if (length <= 0) {
      return Optional.empty();
    }
    byte[] password = characters(secret);
    byte[] work = sealed.clone();
    xorWithStream(work, password);
    byte[] open = Arrays.copyOfRange(work, DIGEST, DIGEST + length);
    Arrays.fill(work, (byte) 0);
    MessageDigest sha1 = MessageDigest.getInstance("SHA-1");
    sha1.update(password);
    byte[] check = sha1.digest(open);
    Arrays.fill(password, (byte) 0);
    boolean right =
        MessageDigest.isEqual(check, Arrays.copyOfRange(sealed, DIGEST + length, sealed.length));
    if (!right) {
      Arrays.fill(open, (byte) 0);
      return Optional.empty();
    }
    return Optional.of(open);
  }

  /** The password as the older keystores take it: two octets a character, big end first. */
  private static byte[] characters(Secret secret) {
    byte[] terminated = secret.terminatedBmp();
    byte[] password = Arrays.copyOf(terminated, terminated.length - 2);
    Arrays.fill(terminated, (byte) 0);
    return password;
  }

  /** Turns the key between salt and check from open to sealed, or back. */
  private static void xorWithStream(byte[] sealed, byte[] password)
      throws GeneralSecurityException {
    MessageDigest sha1 = MessageDigest.getInstance("SHA-1");
    byte[] stream = Arrays.copyOf(sealed, DIGEST);
    int end = sealed.length - DIGEST;
    for (int at = DIGEST; at < end; at += DIGEST) {
      sha1.update(password);
      stream = sha1.digest(stream);
      for (int i = 0; i < DIGEST && at + i < end; i++) {
        sealed[at + i] ^= stream[i];
      }
    }
    Arrays.fill(stream, (byte) 0);
  }

  private static Optional<byte[]> runJceks(
      int mode, byte[] input, Secret secret, PBEParameterSpec values)
      throws GeneralSecurityException {
    if (!secret.isAscii()) {
      return Optional.empty(); // this scheme knows no other characters
    }
    char[] revealed = secret.reveal();
    PBEKeySpec spec = new PBEKeySpec(revealed);
    try {
      SecretKey key = SecretKeyFactory.getInstance("PBEWithMD5AndTripleDES").generateSecret(spec);
      Cipher cipher = Cipher.getInstance("PBEWithMD5AndTripleDES");
      cipher.init(mode, key, values);
      return Optional.of(cipher.doFinal(input));
    } catch (BadPaddingException | IllegalBlockSizeException e) {
      return Optional.empty();
    } finally {
      spec.clearPassword();
      Arrays.fill(revealed, '\0');
    }
  }
}
