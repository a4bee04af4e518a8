package io.symbolon.store;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.der.Der;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.seal.PasswordMac;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Writes PKCS#12 (RFC 7292) as Java's own reader and servers expect it: keys in shrouded bags, all
 * certificates in one encrypted part, both with PBES2 (AES-256-CBC, PBKDF2-HMAC-SHA-256), and a MAC
 * with HMAC-SHA-256 over all.
 */
public final class Pkcs12Writer {
  /**
   * Derivation rounds. Ten times what Java writes itself, and a guess of the password costs as
   * much; opening a store three times (key, certificates, MAC) stays well under a second on a small
   * server. No reader in use refuses it: Java's limit is 5,000,000.
   */
  public static final int ROUNDS = 100_000;

  private Pkcs12Writer() {}

  /**
   * Writes a store.
   *
   * @param entries what it shall hold, with aliases that differ in more than case
   * @param secret the password for the store and every key in it
   * @param random for salts and initialisation vectors
   * @return the whole file
   * @throws SymbolonException if two entries have one alias, a credential has no certificate, or
   *     the password holds characters that Java's reader does not take
   */
  public static byte[] write(List<StoreEntry> entries, Secret secret, SecureRandom random) {
    checkAliases(entries);
    checkSecret(secret);
    List<byte[]> keyBags = new ArrayList<>();
    List<byte[]> certificateBags = new ArrayList<>();
    Set<Certificate> chainCertificates = new HashSet<>();
    for (StoreEntry entry : entries) {
      if (entry instanceof StoreEntry.Credential credential) {
        byte[] localKeyId = localKeyId(credential);
        keyBags.add(keyBag(credential, localKeyId, secret, random));
        for (int i = 0; i < credential.chain().size(); i++) {
          Certificate certificate = credential.chain().get(i);
          if (i == 0) {
            certificateBags.add(
                certificateBag(
                    certificate, Optional.of(entry.alias()), Optional.of(localKeyId), false));
          } else if (chainCertificates.add(certificate)) {
            certificateBags.add(
                certificateBag(certificate, Optional.empty(), Optional.empty(), false));
          }
        }
      } else if (entry instanceof StoreEntry.Trusted trusted) {
        certificateBags.add(
            certificateBag(
                trusted.certificate(), Optional.of(entry.alias()), Optional.empty(), true));
      }
    }
    List<byte[]> parts = new ArrayList<>();
    if (!keyBags.isEmpty()) {
      parts.add(
          Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence(keyBags)))));
    }
    if (!certificateBags.isEmpty()) {
      parts.add(encryptedPart(Der.sequence(certificateBags), secret, random));
    }
    byte[] authenticatedSafe = Der.sequence(parts);
    PasswordMac mac = PasswordMac.over(authenticatedSafe, secret, random, ROUNDS);
    return Der.sequence(
        Der.integer(3),
        Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(authenticatedSafe))),
        mac.encoding());
  }

  private static void checkAliases(List<StoreEntry> entries) {
    Set<String> seen = new HashSet<>();
    for (StoreEntry entry : entries) {
      if (!seen.add(entry.alias().toLowerCase(Locale.ENGLISH))) {
        throw new SymbolonException(
            Reason.AMBIGUOUS,
            "The keystore can't be written.",
            "Two entries have the alias '" + io.symbolon.VisibleText.of(entry.alias()) + "'.",
            "Give each entry an alias of its own; upper and lower case do not count.");
      }
    }
  }

  /** Java's own reader takes no other characters; a store that it can't open is of no use. */
  private static void checkSecret(Secret secret) {
    char[] revealed = secret.reveal();
    boolean ascii = true;
    for (char c : revealed) {
      ascii &= c >= 0x20 && c <= 0x7E;
    }
    Arrays.fill(revealed, '\0');
    if (!ascii) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The keystore can't be written with this password.",
          "The password from "
              + secret.source()
              + " holds characters outside of ASCII, such as umlauts; Java opens no PKCS#12 with such"
              + " a password.",
          "Choose a password of ASCII letters, digits and signs, or let one be made with"
              + " --seal new=PATH.");
    }
  }

  /**
   * SHA-256 of the end-entity certificate: unique, and the same when the store is written again.
   */
  private static byte[] localKeyId(StoreEntry.Credential credential) {
    if (credential.chain().isEmpty()) {
      throw new SymbolonException(
          Reason.INCOMPLETE,
          "The keystore can't be written.",
          "The key '" + io.symbolon.VisibleText.of(credential.alias()) + "' has no certificate.",
          "Give the certificate that belongs to it as well.");
    }
    return java.util.HexFormat.of().parseHex(credential.chain().get(0).sha256());
  }

  private static byte[] keyBag(
      StoreEntry.Credential credential, byte[] localKeyId, Secret secret, SecureRandom random) {
    EncryptedPrivateKeyInfo sealed =
        EncryptedPrivateKeyInfo.seal(credential.key(), Protection.strong(random, ROUNDS), secret);
    return bag(
        Oids.SHROUDED_KEY_BAG,
        sealed.encoding(),
        List.of(
            attribute(Oids.FRIENDLY_NAME, Der.bmp(credential.alias())),
            attribute(Oids.LOCAL_KEY_ID, Der.octets(localKeyId))));
  }

  private static byte[] certificateBag(
      Certificate certificate,
      Optional<String> alias,
      Optional<byte[]> localKeyId,
      boolean trusted) {
    List<byte[]> attributes = new ArrayList<>();
    alias.ifPresent(name -> attributes.add(attribute(Oids.FRIENDLY_NAME, Der.bmp(name))));
    localKeyId.ifPresent(id -> attributes.add(attribute(Oids.LOCAL_KEY_ID, Der.octets(id))));
    if (trusted) {
      attributes.add(attribute(Oids.TRUSTED_KEY_USAGE, Der.oid(Oids.ANY_USAGE)));
    }
    byte[] value =
        Der.sequence(
            Der.oid(Oids.X509_CERTIFICATE), Der.context(0, Der.octets(certificate.encoding())));
    return bag(Oids.CERT_BAG, value, attributes);
  }

  private static byte[] bag(Oid type, byte[] value, List<byte[]> attributes) {
    return attributes.isEmpty()
        ? Der.sequence(Der.oid(type), Der.context(0, value))
        : Der.sequence(Der.oid(type), Der.context(0, value), Der.setOf(attributes));
  }

  private static byte[] attribute(Oid type, byte[] value) {
    return Der.sequence(Der.oid(type), Der.setOf(List.of(value)));
  }

  private static byte[] encryptedPart(byte[] content, Secret secret, SecureRandom random) {
    Protection protection = Protection.strong(random, ROUNDS);
    byte[] info =
        Der.sequence(
            Der.oid(Oids.DATA),
            protection.encoding(),
            Der.contextPrimitive(0, protection.seal(content, secret)));
    return Der.sequence(
        Der.oid(Oids.ENCRYPTED_DATA), Der.context(0, Der.sequence(Der.integer(0), info)));
  }
}
