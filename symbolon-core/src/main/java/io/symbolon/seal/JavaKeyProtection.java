package io.symbolon.seal;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.Arrays;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;
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
   * @throws io.symbolon.SymbolonException if it is none, or sealed in another way
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

  /** The PrivateKeyInfo inside, or nothing where the password is not the right one. */
  public Optional<byte[]> open(Secret secret) {
    try {
      return parameters.isPresent() ? openJceks(secret, parameters.get()) : openJks(secret);
    } catch (GeneralSecurityException e) {
      throw Digests.Unsupported.scheme(Oids.nameOrDotted(oid));
    }
  }

  /** The scheme in words. */
  public String description() {
    return Oids.nameOrDotted(oid)
        + parameters.map(values -> ", " + values.getIterationCount() + " rounds").orElse("");
  }

  private Optional<byte[]> openJks(Secret secret) throws GeneralSecurityException {
    int length = sealed.length - 2 * DIGEST;
    if (length <= 0) {
      return Optional.empty();
    }
    byte[] terminated = secret.terminatedBmp();
    byte[] password = Arrays.copyOf(terminated, terminated.length - 2);
    Arrays.fill(terminated, (byte) 0);
    MessageDigest sha1 = MessageDigest.getInstance("SHA-1");
    byte[] open = new byte[length];
    byte[] stream = Arrays.copyOf(sealed, DIGEST);
    for (int at = 0; at < length; at += DIGEST) {
      sha1.update(password);
      stream = sha1.digest(stream);
      for (int i = 0; i < DIGEST && at + i < length; i++) {
        open[at + i] = (byte) (sealed[DIGEST + at + i] ^ stream[i]);
      }
    }
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

  private Optional<byte[]> openJceks(Secret secret, PBEParameterSpec values)
      throws GeneralSecurityException {
    char[] revealed = secret.reveal();
    for (char c : revealed) {
      if (c < 0x20 || c > 0x7E) {
        return Optional.empty(); // this scheme knows no other characters
      }
    }
    PBEKeySpec spec = new PBEKeySpec(revealed);
    try {
      SecretKey key = SecretKeyFactory.getInstance("PBEWithMD5AndTripleDES").generateSecret(spec);
      Cipher cipher = Cipher.getInstance("PBEWithMD5AndTripleDES");
      cipher.init(Cipher.DECRYPT_MODE, key, values);
      return Optional.of(cipher.doFinal(sealed));
    } catch (BadPaddingException e) {
      return Optional.empty();
    } finally {
      spec.clearPassword();
      Arrays.fill(revealed, '\0');
    }
  }
}
