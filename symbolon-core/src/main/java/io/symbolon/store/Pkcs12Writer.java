// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.PasswordMac;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * Writes PKCS#12 (RFC 7292) as Java's own reader and servers expect it: keys in shrouded bags, all
 * certificates in one encrypted part, and a MAC over all; how these are protected is a {@link
 * Pkcs12Strength}.
 */
public final class Pkcs12Writer {
  private static final int MOST_ZEROS = 500;
  private static final int SHA256_OCTETS = 32;

  private final Pkcs12Strength strength;
  private final Secret secret;
  private final SecureRandom random;
  private final Map<Certificate, String> names;

  private Pkcs12Writer(
      Pkcs12Strength strength, Secret secret, SecureRandom random, Map<Certificate, String> names) {
    this.strength = strength;
    this.secret = secret;
    this.random = random;
    this.names = names;
  }

  /**
   * Writes a store with today's protection.
   *
   * @param entries what it shall hold, with aliases that differ in more than case
   * @param secret the password for the store and every key in it without one of its own
   * @param random for salts and initialisation vectors
   * @return the whole file
   * @throws SymbolonException if two entries have one alias, or the password holds characters that
   *     Java's reader does not take
   */
  public static byte[] write(List<StoreEntry> entries, Secret secret, SecureRandom random) {
    return write(entries, secret, random, Pkcs12Strength.STRONG, Map.of());
  }

  /**
   * Writes a store.
   *
   * @param strength how it is protected
   * @param names friendly names of certificates in chains, beside the alias of the first
   */
  public static byte[] write(
      List<StoreEntry> entries,
      Secret secret,
      SecureRandom random,
      Pkcs12Strength strength,
      Map<Certificate, String> names) {
    StoreAliases.check(entries);
    checkSecret(secret);
    for (StoreEntry entry : entries) {
      if (entry instanceof StoreEntry.KeyEntry credential) {
        credential.own().ifPresent(Pkcs12Writer::checkSecret);
      }
    }
    return new Pkcs12Writer(strength, secret, random, names).write(entries);
  }

  private byte[] write(List<StoreEntry> entries) {
    Map<StoreEntry, byte[]> localKeyIds = localKeyIds(entries);
    List<byte[]> keyBags = keyBags(entries, localKeyIds);
    List<byte[]> otherBags = new ArrayList<>();
    Set<Certificate> chainCertificates = new HashSet<>();
    for (StoreEntry entry : entries) {
      if (entry instanceof StoreEntry.KeyEntry credential) {
        for (int i = 0; i < credential.chain().size(); i++) {
          Certificate certificate = credential.chain().get(i);
          if (i == 0) {
            otherBags.add(
                certificateBag(
                    certificate, entry.name(), Optional.ofNullable(localKeyIds.get(entry)), false));
          } else if (chainCertificates.add(certificate)) {
            Optional<String> name = Optional.ofNullable(names.get(certificate));
            otherBags.add(certificateBag(certificate, name, Optional.empty(), false));
          }
        }
      } else if (entry instanceof StoreEntry.Trusted trusted) {
        otherBags.add(certificateBag(trusted.certificate(), entry.name(), Optional.empty(), true));
      } else if (entry instanceof StoreEntry.Plain plain) {
        Optional<byte[]> id = plain.localKeyId().map(HexFormat.of()::parseHex);
        otherBags.add(certificateBag(plain.certificate(), plain.name(), id, false));
      } else if (entry instanceof StoreEntry.Crl crl) {
        otherBags.add(
            bag(
                Oids.CRL_BAG,
                Der.sequence(
                    Der.oid(Oids.X509_CRL), Der.context(0, Der.octets(crl.list().encoding()))),
                named(crl.name())));
      }
    }
    List<byte[]> parts = new ArrayList<>();
    if (!keyBags.isEmpty()) {
      parts.add(
          Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence(keyBags)))));
    }
    if (!otherBags.isEmpty()) {
      parts.add(encryptedPart(Der.sequence(otherBags)));
    }
    byte[] authenticatedSafe = Der.sequence(parts);
    PasswordMac mac =
        PasswordMac.over(authenticatedSafe, secret, random, strength.rounds(), strength.mac());
    return Der.sequence(
        Der.integer(3),
        Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(authenticatedSafe))),
        mac.encoding());
  }

  /** Java's own reader takes no other characters; a store that it can't open is of no use. */
  private static void checkSecret(Secret secret) {
    if (!secret.isAscii()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The keystore can't be written with this password.",
          "The password from "
              + VisibleText.of(secret.source())
              + " holds characters outside of ASCII, such as umlauts; Java opens no PKCS#12 with such"
              + " a password.",
          Remedy.of(
              "Choose a password of ASCII letters, digits and signs, or let one be made.",
              Action.again(Input.NEW_PASSWORD_FILE)));
    }
  }

  /**
   * What a key and its certificate share: the octets they had; else, where the moment the entry was
   * made is known, {@code Time} and its milliseconds, in which Java's reader finds that moment;
   * else SHA-256 of the certificate, with a number behind it where the same certificate is there
   * again. Always unique, since a key without it loses its certificate for every reader; and the
   * same when the store is written again.
   */
  private static Map<StoreEntry, byte[]> localKeyIds(List<StoreEntry> entries) {
    Map<StoreEntry, byte[]> ids = new HashMap<>();
    Set<String> taken = new HashSet<>();
    List<StoreEntry.KeyEntry> keys =
        entries.stream()
            .filter(StoreEntry.KeyEntry.class::isInstance)
            .map(StoreEntry.KeyEntry.class::cast)
            .toList();
    for (StoreEntry.KeyEntry key : keys) {
      key.localKeyId()
          .filter(id -> taken.add(id.toLowerCase(Locale.ROOT)))
          .ifPresent(id -> ids.put(key, HexFormat.of().parseHex(id)));
    }
    for (StoreEntry.KeyEntry key : keys) {
      if (!ids.containsKey(key)) {
        key.created()
            .map(created -> timeId(created, taken))
            .filter(id -> taken.add(HexFormat.of().formatHex(id)))
            .or(() -> key.chain().stream().findFirst().map(own -> certificateId(own, taken)))
            .ifPresent(id -> ids.put(key, id));
      }
    }
    return ids;
  }

  private static byte[] certificateId(Certificate certificate, Set<String> taken) {
    byte[] id = HexFormat.of().parseHex(certificate.sha256());
    for (int number = 1; !taken.add(HexFormat.of().formatHex(id)); number++) {
      id =
          ByteBuffer.allocate(SHA256_OCTETS + Integer.BYTES)
              .put(HexFormat.of().parseHex(certificate.sha256()))
              .putInt(number)
              .array();
    }
    return id;
  }

  /** Zeros in front of the number tell apart what was made in the same millisecond. */
  private static byte[] timeId(Instant created, Set<String> taken) {
    String number = Long.toString(created.toEpochMilli());
    String id = "Time " + number;
    for (int zeros = 1; zeros < MOST_ZEROS && taken.contains(hex(id)); zeros++) {
      id = "Time " + "0".repeat(zeros) + number;
    }
    return id.getBytes(StandardCharsets.US_ASCII);
  }

  private static String hex(String ascii) {
    return HexFormat.of().formatHex(ascii.getBytes(StandardCharsets.US_ASCII));
  }

  /** The keys, sealed on all processors: each derivation is independent of the others. */
  private List<byte[]> keyBags(List<StoreEntry> entries, Map<StoreEntry, byte[]> localKeyIds) {
    List<StoreEntry.KeyEntry> credentials =
        entries.stream()
            .filter(entry -> entry instanceof StoreEntry.KeyEntry)
            .map(entry -> (StoreEntry.KeyEntry) entry)
            .toList();
    List<Protection> protections =
        credentials.stream().map(credential -> strength.protection(random)).toList();
    return IntStream.range(0, credentials.size())
        .parallel()
        .mapToObj(
            i -> {
              StoreEntry.KeyEntry credential = credentials.get(i);
              EncryptedPrivateKeyInfo sealed =
                  EncryptedPrivateKeyInfo.seal(
                      credential.key(), protections.get(i), credential.own().orElse(secret));
              List<byte[]> attributes = named(credential.name());
              byte[] id = localKeyIds.get(credential);
              if (id != null) {
                attributes.add(attribute(Oids.LOCAL_KEY_ID, Der.octets(id)));
              }
              return bag(Oids.SHROUDED_KEY_BAG, sealed.encoding(), attributes);
            })
        .toList();
  }

  private static List<byte[]> named(Optional<String> name) {
    List<byte[]> attributes = new ArrayList<>();
    name.ifPresent(text -> attributes.add(attribute(Oids.FRIENDLY_NAME, Der.bmp(text))));
    return attributes;
  }

  private static byte[] certificateBag(
      Certificate certificate,
      Optional<String> name,
      Optional<byte[]> localKeyId,
      boolean trusted) {
    List<byte[]> attributes = named(name);
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

  private byte[] encryptedPart(byte[] content) {
    Protection protection = strength.protection(random);
    byte[] info =
        Der.sequence(
            Der.oid(Oids.DATA),
            protection.encoding(),
            Der.contextPrimitive(0, protection.seal(content, secret)));
    return Der.sequence(
        Der.oid(Oids.ENCRYPTED_DATA), Der.context(0, Der.sequence(Der.integer(0), info)));
  }
}
