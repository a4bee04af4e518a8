// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * A file that a server's settings name.
 *
 * @param role what it is for
 * @param path where it is, resolved as the server does it
 * @param setting the name of the setting
 * @param origin where the setting stands
 * @param passwords the passwords that the settings give for it: that of a store, and that of the
 *     key in it where it has one of its own
 * @param byRoot whether the server reads it before it gives up the rights of root
 */
public record UsedFile(
    FileRole role,
    Path path,
    String setting,
    Origin origin,
    List<Secret> passwords,
    boolean byRoot) {
  /** Copies the passwords. */
  public UsedFile {
    passwords = List.copyOf(passwords);
  }

  /**
   * A file with one password at most.
   *
   * @param role what it is for
   * @param setting the name of the setting
   * @param origin where the setting stands
   * @param password the password that the settings give for it
   * @param byRoot whether root reads it
   */
  public UsedFile(
      FileRole role,
      Path path,
      String setting,
      Origin origin,
      Optional<Secret> password,
      boolean byRoot) {
    this(role, path, setting, origin, password.stream().toList(), byRoot);
  }

  /** {@return the password of the file itself} */
  public Optional<Secret> password() {
    return passwords.stream().findFirst();
  }
}
