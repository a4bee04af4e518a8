// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.seal.JavaKeyProtection;
import io.symbolon.seal.Secret;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What a keystore of Java's older kinds, JKS or JCEKS, holds.
 *
 * @param entries the entries, in the order of the file
 * @param opener the password that the integrity check proved right
 */
public record JavaStore(List<Entry> entries, Optional<Secret> opener) {
  /** The first octets of a JKS keystore. */
  public static final int JKS_MAGIC = 0xFEEDFEED;

  /** The first octets of a JCEKS keystore. */
  public static final int JCEKS_MAGIC = 0xCECECECE;

  /** Copies the entries. */
  public JavaStore {
    entries = List.copyOf(entries);
  }

  /**
   * One entry.
   *
   * @param created when it was made
   * @param kind what it is
   * @param certificates the chain of a key, or the one trusted certificate, in DER
   * @param key the sealed key of a key entry
   */
  public record Entry(
      String alias,
      Instant created,
      EntryKind kind,
      List<byte[]> certificates,
      Optional<JavaKeyProtection> key) {
    /** Copies the list. */
    public Entry {
      certificates = List.copyOf(certificates);
    }
  }

  /** What an entry is. */
  public enum EntryKind {
    /** A private key with its chain. */
    PRIVATE_KEY,
    /** A trusted certificate. */
    TRUSTED,
    /** A secret key: listed, never opened. */
    SECRET_KEY
  }
}
