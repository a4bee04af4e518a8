// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.security.GeneralSecurityException;
import java.security.spec.AlgorithmParameterSpec;
import javax.crypto.BadPaddingException;
import javax.crypto.Cipher;
import javax.crypto.IllegalBlockSizeException;
import javax.crypto.spec.IvParameterSpec;
import javax.crypto.spec.RC2ParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * A cipher of the platform with the sizes that password-based protection needs of it.
 *
 * @param name how people call it
 * @param keyAlgorithm the platform's name of the key
 * @param transformation the platform's name of the cipher
 * @param keyLength octets of the key
 * @param ivLength octets of the initialisation vector; 0 for a stream cipher
 * @param effectiveBits the effective key bits of RC2; 0 for all others
 */
record BlockCipher(
    String name,
    String keyAlgorithm,
    String transformation,
    int keyLength,
    int ivLength,
    int effectiveBits) {
  static final BlockCipher AES_128 = aes(16);
  static final BlockCipher AES_192 = aes(24);
  static final BlockCipher AES_256 = aes(32);
  static final BlockCipher DES = new BlockCipher("DES-CBC", "DES", "DES/CBC/PKCS5Padding", 8, 8, 0);
  static final BlockCipher TRIPLE_DES =
      new BlockCipher("3DES-CBC", "DESede", "DESede/CBC/PKCS5Padding", 24, 8, 0);
  static final BlockCipher TWO_KEY_3DES =
      new BlockCipher("two-key 3DES-CBC", "DESede", "DESede/CBC/PKCS5Padding", 16, 8, 0);

  static BlockCipher aes(int octets) {
    return new BlockCipher(
        "AES-" + 8 * octets + "-CBC", "AES", "AES/CBC/PKCS5Padding", octets, 16, 0);
  }

  static BlockCipher rc2(int octets, int effectiveBits) {
    return new BlockCipher(
        "RC2-" + effectiveBits + "-CBC", "RC2", "RC2/CBC/PKCS5Padding", octets, 8, effectiveBits);
  }

  static BlockCipher rc4(int octets) {
    return new BlockCipher("RC4-" + 8 * octets, "RC4", "RC4", octets, 0, 0);
  }

  byte[] run(int mode, byte[] key, byte[] iv, byte[] input) throws BadPaddingException {
    try {
      Cipher cipher = Cipher.getInstance(transformation);
      byte[] full = this.equals(TWO_KEY_3DES) ? twoKey(key) : key;
      SecretKeySpec secretKey = new SecretKeySpec(full, keyAlgorithm);
      if (ivLength == 0) {
        cipher.init(mode, secretKey);
      } else {
        cipher.init(mode, secretKey, parameters(iv));
      }
      return cipher.doFinal(input);
    } catch (BadPaddingException e) {
      throw e;
    } catch (IllegalBlockSizeException e) {
      throw SymbolonException.malformed(
          "protected content", "Its length is not a whole number of cipher blocks.");
    } catch (GeneralSecurityException e) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "What is protected by a password can't be opened.",
          "This Java refuses " + name + ": " + e.getMessage() + ".",
          "Ask its sender to protect it with PBES2 and AES-256, or use a Java that has "
              + name
              + ".",
          e);
    }
  }

  private AlgorithmParameterSpec parameters(byte[] iv) {
    return effectiveBits == 0 ? new IvParameterSpec(iv) : new RC2ParameterSpec(effectiveBits, iv);
  }

  private static byte[] twoKey(byte[] key) {
    byte[] full = java.util.Arrays.copyOf(key, 24);
    System.arraycopy(key, 0, full, 16, 8);
    return full;
  }
}
