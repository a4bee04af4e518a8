// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.seal.JavaKeyProtection;
import io.symbolon.seal.Secret;
import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Reads JKS and JCEKS keystores. All numbers are written big end first. Behind a magic number, the
 * version and the number of entries stand the entries, and at the end SHA-1 over the password, a
 * fixed phrase and everything before: the integrity check, which also tells the right password.
 * Certificates lie open; so they are read without a password, too.
 *
 * <p>A secret key in a JCEKS is a serialized Java object. It is never deserialized: where one
 * stands, its end is not known, and what follows it is not read.
 */
public final class JavaStoreReader {
  private static final byte[] PHRASE = "Mighty Aphrodite".getBytes(StandardCharsets.US_ASCII);
  private static final int CHECK = 20; // octets of SHA-1

  private final DataInputStream in;
  private boolean stoppedAtSecretKey;

  private JavaStoreReader(byte[] bytes) {
    this.in =
        new DataInputStream(new ByteArrayInputStream(bytes, 0, Math.max(0, bytes.length - CHECK)));
  }

  /** Whether the octets begin as a keystore of these kinds does. */
  public static boolean isOne(byte[] bytes) {
    int magic = magic(bytes);
    return magic == JavaStore.JKS_MAGIC || magic == JavaStore.JCEKS_MAGIC;
  }

  /** Whether the octets begin as a JCEKS does. */
  public static boolean isJceks(byte[] bytes) {
    return magic(bytes) == JavaStore.JCEKS_MAGIC;
  }

  private static int magic(byte[] bytes) {
    return bytes.length < 4
        ? 0
        : bytes[0] << 24 | (bytes[1] & 0xFF) << 16 | (bytes[2] & 0xFF) << 8 | (bytes[3] & 0xFF);
  }

  /**
   * Reads a keystore.
   *
   * @param bytes the whole file
   * @param unlock the passwords to try for the integrity check
   * @throws SymbolonException if it is none, or damaged
   */
  public static JavaStore read(byte[] bytes, List<Secret> unlock) {
    JavaStoreReader reader = new JavaStoreReader(bytes);
    try {
      List<JavaStore.Entry> entries = reader.entries();
      if (!reader.stoppedAtSecretKey && reader.in.available() > 0) {
        throw malformed("Behind its last entry follow " + reader.in.available() + " octets.");
      }
      return new JavaStore(
          entries, unlock.stream().filter(secret -> matches(bytes, secret)).findFirst());
    } catch (IOException e) {
      throw malformed("It breaks off after " + bytes.length + " octets, inside an entry.");
    }
  }

  private static SymbolonException malformed(String seen) {
    return SymbolonException.malformed("Java keystore", seen);
  }

  private static boolean matches(byte[] bytes, Secret secret) {
    byte[] content = Arrays.copyOf(bytes, bytes.length - CHECK);
    return MessageDigest.isEqual(
        check(content, secret), Arrays.copyOfRange(bytes, bytes.length - CHECK, bytes.length));
  }

  /** The integrity check over {@code content}, everything that stands in front of it. */
  static byte[] check(byte[] content, Secret secret) {
    char[] revealed = secret.reveal();
    try {
      MessageDigest sha1 = MessageDigest.getInstance("SHA-1");
      for (char c : revealed) {
        sha1.update((byte) (c >>> 8));
        sha1.update((byte) c);
      }
      sha1.update(PHRASE);
      return sha1.digest(content);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-1", e);
    } finally {
      Arrays.fill(revealed, '\0');
    }
  }

  private List<JavaStore.Entry> entries() throws IOException {
    int magic = in.readInt();
    int version = in.readInt();
    if (version != 1 && version != 2) {
      throw malformed("Its version is " + version + ", not 1 or 2.");
    }
    int count = in.readInt();
    if (count < 0 || count > Limits.STORE_ENTRIES) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "The Java keystore can't be read.",
          "It says it holds " + count + " entries; at most " + Limits.STORE_ENTRIES + " are read.",
          "Ask for the file again; it may be damaged.");
    }
    List<JavaStore.Entry> entries = new ArrayList<>();
    for (int i = 0; i < count && !stoppedAtSecretKey; i++) {
      entries.add(entry(version, magic == JavaStore.JCEKS_MAGIC));
    }
    return entries;
  }

  private JavaStore.Entry entry(int version, boolean jceks) throws IOException {
    int tag = in.readInt();
    String alias = in.readUTF();
    Instant created = Instant.ofEpochMilli(in.readLong());
    if (tag == 1) {
      JavaKeyProtection key = JavaKeyProtection.read(octets());
      int length = in.readInt();
      if (length < 0 || length > Limits.STORE_ENTRIES) {
        throw malformed("The chain of an entry can't have " + length + " certificates.");
      }
      List<byte[]> chain = new ArrayList<>();
      for (int i = 0; i < length; i++) {
        chain.add(certificate(version));
      }
      return new JavaStore.Entry(
          alias, created, JavaStore.EntryKind.PRIVATE_KEY, chain, Optional.of(key));
    }
    if (tag == 2) {
      return new JavaStore.Entry(
          alias,
          created,
          JavaStore.EntryKind.TRUSTED,
          List.of(certificate(version)),
          Optional.empty());
    }
    if (tag == 3 && jceks) {
      stoppedAtSecretKey = true;
      return new JavaStore.Entry(
          alias, created, JavaStore.EntryKind.SECRET_KEY, List.of(), Optional.empty());
    }
    throw malformed("An entry is of kind " + tag + ", which there is not.");
  }

  private byte[] certificate(int version) throws IOException {
    if (version == 2) {
      String type = in.readUTF();
      if (!type.equals("X.509") && !type.equals("X509")) {
        throw malformed(
            "A certificate is of type '" + io.symbolon.text.VisibleText.of(type) + "'.");
      }
    }
    return octets();
  }

  private byte[] octets() throws IOException {
    int length = in.readInt();
    if (length < 0 || length > in.available()) {
      throw malformed(
          "A length of " + length + " runs past the end: " + in.available() + " octets are there.");
    }
    return in.readNBytes(length);
  }

  /** Whether {@code store} ends before the file does, at a secret key. */
  public static boolean isPartial(JavaStore store) {
    return store.entries().stream().anyMatch(e -> e.kind() == JavaStore.EntryKind.SECRET_KEY);
  }
}
