// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

/** Who may read what is written. */
public enum Privacy {
  /**
   * Its owner alone, from the moment it exists: everything with a private key or a password. Where
   * it replaces a file, the group of that file keeps its rights: a server may read it by them.
   */
  OWNER_ONLY,
  /** Whoever the system's defaults let: certificates and other public things. */
  SYSTEM_DEFAULT
}
