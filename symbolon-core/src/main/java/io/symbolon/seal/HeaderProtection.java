// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;

/**
 * The older way to encrypt a key in PEM: the header {@code DEK-Info} (RFC 1421, 4.6.1.3) names a
 * cipher and its initialisation vector, whose first eight octets are the salt. The key of the
 * cipher is MD5 over password and salt, once, and MD5 over that, password and salt for as long as
 * octets are missing. One round of MD5: an attacker guesses millions of passwords a second.
 */
public final class HeaderProtection {
  private static final Map<String, BlockCipher> CIPHERS =
      Map.of(
          "DES-CBC", BlockCipher.DES,
          "DES-EDE3-CBC", BlockCipher.TRIPLE_DES,
          "AES-128-CBC", BlockCipher.AES_128,
          "AES-192-CBC", BlockCipher.AES_192,
          "AES-256-CBC", BlockCipher.AES_256);
  private static final int SALT = 8; // octets

  private final BlockCipher cipher;
  private final byte[] iv;

  private HeaderProtection(BlockCipher cipher, byte[] iv) {
    this.cipher = cipher;
    this.iv = iv;
  }

  /**
   * Reads the value of the header.
   *
   * @param dekInfo such as {@code AES-256-CBC,00112233445566778899AABBCCDDEEFF}
   * @return the header protection
   * @throws SymbolonException if it is malformed or names an unknown cipher
   */
  public static HeaderProtection read(String dekInfo) {
    int comma = dekInfo.indexOf(',');
    String name = comma < 0 ? dekInfo.strip() : dekInfo.substring(0, comma).strip();
    BlockCipher cipher = CIPHERS.get(name);
    if (cipher == null) {
      throw Digests.Unsupported.scheme(VisibleText.of(name));
    }
    try {
      byte[] iv = HexFormat.of().parseHex(dekInfo.substring(comma + 1).strip());
      if (iv.length == cipher.ivLength()) {
        return new HeaderProtection(cipher, iv);
      }
    } catch (IllegalArgumentException e) {
      throw SymbolonException.malformed(
          "header DEK-Info", "Its initialisation vector is not hexadecimal.");
    }
    throw SymbolonException.malformed(
        "header DEK-Info", "Its initialisation vector has not the length of " + name + ".");
  }

  /**
   * {@return the content, or nothing where this password is not the right one}
   *
   * @param sealed the sealed octets
   * @param secret the password
   */
  public Optional<byte[]> open(byte[] sealed, Secret secret) {
    byte[] key = derive(secret);
    try {
      return Optional.of(cipher.run(Cipher.DECRYPT_MODE, key, iv, sealed));
    } catch (BadPaddingException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(key, (byte) 0);
    }
  }

  private byte[] derive(Secret secret) {
    byte[] password = secret.revealUtf8();
    byte[] key = new byte[cipher.keyLength()];
    try {
      MessageDigest md5 = MessageDigest.getInstance("MD5");
      byte[] block = new byte[0];
      for (int at = 0; at < key.length; at += block.length) {
        md5.update(block);
        md5.update(password);
        md5.update(iv, 0, SALT);
        block = md5.digest();
        System.arraycopy(block, 0, key, at, Math.min(block.length, key.length - at));
      }
      Arrays.fill(block, (byte) 0);
      return key;
    } catch (NoSuchAlgorithmException e) {
      throw Digests.Unsupported.scheme("MD5");
    } finally {
      Arrays.fill(password, (byte) 0);
    }
  }

  /** {@return the scheme in words} */
  public String description() {
    return "PEM header, " + cipher.name() + ", one round of MD5";
  }
}
