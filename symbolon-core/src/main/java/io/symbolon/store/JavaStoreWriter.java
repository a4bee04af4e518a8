// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.JavaKeyProtection;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UTFDataFormatException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Writes JKS and JCEKS keystores, whose layout {@link JavaStoreReader} tells. Aliases are written
 * in lower case, since Java's reader looks for them so and would not find others. Nothing but the
 * keys' salts is random: a keystore of certificates alone comes out the same each time, because an
 * entry whose day is not known takes the day its certificate began.
 */
public final class JavaStoreWriter {
  /** The two kinds. */
  public enum StoreType {
    /** Private keys under SHA-1, and trusted certificates. */
    JKS(JavaStore.JKS_MAGIC),
    /** Private keys under MD5 and 3DES. */
    JCEKS(JavaStore.JCEKS_MAGIC);

    private final int magic;

    StoreType(int magic) {
      this.magic = magic;
    }
  }

  /** Derivation rounds for a key in a JCEKS: what Java writes itself. */
  public static final int JCEKS_ROUNDS = 200_000;

  private static final int VERSION = 2;
  private static final int LONGEST_ALIAS = 1_000;

  private JavaStoreWriter() {}

  /**
   * Writes a keystore.
   *
   * @param kind which kind
   * @param entries credentials and trusted certificates, with aliases that differ in more than case
   * @param secret the password of the store, and of every key without one of its own
   * @param random for salts
   * @return the whole file
   * @throws SymbolonException if two entries have one alias, a key has no certificate, or an entry
   *     is of a kind that these keystores do not hold
   */
  public static byte[] write(
      StoreType kind, List<StoreEntry> entries, Secret secret, SecureRandom random) {
    StoreAliases.check(entries);
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (DataOutputStream out = new DataOutputStream(bytes)) {
      out.writeInt(kind.magic);
      out.writeInt(VERSION);
      out.writeInt(entries.size());
      for (StoreEntry entry : entries) {
        if (entry instanceof StoreEntry.KeyEntry credential) {
          credential(out, kind, credential, secret, random);
        } else if (entry instanceof StoreEntry.Trusted trusted) {
          out.writeInt(2);
          head(out, trusted.alias(), trusted.created(), trusted.certificate());
          certificate(out, trusted.certificate());
        } else {
          throw refused(
              "It has no place for a certificate without an alias, or for a revocation list.",
              "Leave it out, or write PKCS#12.");
        }
      }
      out.flush();
      bytes.writeBytes(JavaStoreReader.check(bytes.toByteArray(), secret));
      return bytes.toByteArray();
    } catch (UTFDataFormatException e) {
      throw refused("An alias is too long.", "Choose a shorter one.");
    } catch (IOException e) {
      throw new UncheckedIOException("memory is always writable", e);
    }
  }

  private static void credential(
      DataOutputStream out,
      StoreType kind,
      StoreEntry.KeyEntry credential,
      Secret secret,
      SecureRandom random)
      throws IOException {
    if (credential.chain().isEmpty()) {
      throw refused(
          "The key '" + VisibleText.of(credential.alias()) + "' has no certificate.",
          "Give the certificate that belongs to it as well, or write PKCS#12 or PEM.");
    }
    Secret own = credential.own().orElse(secret);
    byte[] open = credential.key().revealPkcs8();
    JavaKeyProtection sealed;
    try {
      sealed =
          kind == StoreType.JKS
              ? JavaKeyProtection.sealJks(open, own, random)
              : JavaKeyProtection.sealJceks(open, own, random, JCEKS_ROUNDS);
    } finally {
      Arrays.fill(open, (byte) 0);
    }
    out.writeInt(1);
    head(out, credential.alias(), credential.created(), credential.chain().get(0));
    byte[] key = sealed.encoding();
    out.writeInt(key.length);
    out.write(key);
    out.writeInt(credential.chain().size());
    for (Certificate certificate : credential.chain()) {
      certificate(out, certificate);
    }
  }

  private static void head(
      DataOutputStream out, String alias, Optional<Instant> created, Certificate certificate)
      throws IOException {
    if (alias.isEmpty() || alias.length() > LONGEST_ALIAS) {
      throw refused(
          "An alias has " + alias.length() + " characters; 1 to " + LONGEST_ALIAS + " are taken.",
          "Choose another.");
    }
    out.writeUTF(alias.toLowerCase(Locale.ENGLISH));
    out.writeLong(created.orElse(certificate.notBefore()).toEpochMilli());
  }

  private static void certificate(DataOutputStream out, Certificate certificate)
      throws IOException {
    byte[] der = certificate.encoding();
    out.write(TYPE, 0, TYPE.length);
    out.writeInt(der.length);
    out.write(der);
  }

  /** The type of a certificate as this format writes text: its length in two octets in front. */
  private static final byte[] TYPE = "\0\5X.509".getBytes(StandardCharsets.US_ASCII);

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The Java keystore can't be written.", seen, remedy);
  }
}
