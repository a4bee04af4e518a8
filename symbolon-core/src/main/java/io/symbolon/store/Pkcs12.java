// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.seal.PasswordMac;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import java.util.List;
import java.util.Optional;

/**
 * What a PKCS#12 (RFC 7292) holds, as far as the passwords given opened it.
 *
 * @param bags what could be read, in the order of the file
 * @param integrity how far the file was proven unchanged
 * @param mac the integrity check that the file carries
 * @param opener the password that opened it
 * @param lockedParts how many parts no password opened
 * @param protections how its parts are protected, without repetition
 * @param intactButAltered whether a password opens the parts while the integrity check fails
 */
public record Pkcs12(
    List<Bag> bags,
    Integrity integrity,
    Optional<PasswordMac> mac,
    Optional<Secret> opener,
    int lockedParts,
    List<ProtectionWorth> protections,
    boolean intactButAltered) {
  /** How far the file was proven unchanged. */
  public enum Integrity {
    /** The integrity check was made and passed. */
    CHECKED,
    /** The file carries no integrity check. */
    ABSENT,
    /** The file carries one that no password given could satisfy. */
    NOT_CHECKED
  }

  /** Copies the lists. */
  public Pkcs12 {
    bags = List.copyOf(bags);
    protections = List.copyOf(protections);
  }

  /** Whether something in it stayed closed. */
  public boolean isLocked() {
    return lockedParts > 0 || integrity == Integrity.NOT_CHECKED;
  }
}
