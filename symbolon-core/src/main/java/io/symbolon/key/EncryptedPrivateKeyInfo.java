// SPDX-License-Identifier: Apache-2.0
package io.symbolon.key;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import java.util.Arrays;
import java.util.Optional;

/** A private key under a password (RFC 5208, 6; RFC 5958, 3). */
public final class EncryptedPrivateKeyInfo {
  private final Protection protection;
  private final byte[] sealed;

  private EncryptedPrivateKeyInfo(Protection protection, byte[] sealed) {
    this.protection = protection;
    this.sealed = sealed;
  }

  /**
   * Reads the structure; nothing is decrypted.
   *
   * @param element the encoded value
   * @return the encrypted private key info
   * @throws SymbolonException if it is none, or protected in a way that is not known
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static EncryptedPrivateKeyInfo read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    Protection protection = Protection.read(cursor.next());
    byte[] sealed = cursor.next().octets();
    cursor.end();
    return new EncryptedPrivateKeyInfo(protection, sealed);
  }

  /**
   * Seals a key.
   *
   * @param secret the password
   * @return the encrypted private key info
   */
  public static EncryptedPrivateKeyInfo seal(
      PrivateKeyInfo key, Protection protection, Secret secret) {
    byte[] open = key.revealPkcs8();
    try {
      return new EncryptedPrivateKeyInfo(protection, protection.seal(open, secret));
    } finally {
      Arrays.fill(open, (byte) 0);
    }
  }

  /** {@return how it is protected} */
  public Protection protection() {
    return protection;
  }

  /** {@return the whole structure in DER} */
  public byte[] encoding() {
    return Der.sequence(protection.encoding(), Der.octets(sealed));
  }

  /**
   * Opens the key.
   *
   * @param secret the password
   * @return the key, or nothing where the password is not the right one (or, which looks the same,
   *     the content is damaged)
   */
  public Optional<PrivateKeyInfo> open(Secret secret) {
    Optional<byte[]> opened = protection.open(sealed, secret);
    if (opened.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(PrivateKeyInfo.readPkcs8(opened.get()));
    } catch (SymbolonException e) {
      if (e.reason() != Reason.NOT_UNDERSTOOD) {
        throw e;
      }
      return Optional.empty(); // one wrong password in 256 leaves a padding that looks right
    } finally {
      Arrays.fill(opened.get(), (byte) 0);
    }
  }
}
