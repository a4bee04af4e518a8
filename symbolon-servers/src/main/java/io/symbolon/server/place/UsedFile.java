// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A file that a server's settings name, with all that they say of it: how it is opened, and which
 * entry of it counts.
 */
public final class UsedFile {
  private final FileRole role;
  private final Path path;
  private final String setting;
  private final Origin origin;
  private final List<Secret> passwords;
  private final List<Secret> keyPasswords;
  private final @Nullable String alias;
  private final boolean byRoot;

  private UsedFile(
      FileRole role,
      Path path,
      String setting,
      Origin origin,
      List<Secret> passwords,
      List<Secret> keyPasswords,
      @Nullable String alias,
      boolean byRoot) {
    this.role = role;
    this.path = path;
    this.setting = setting;
    this.origin = origin;
    this.passwords = List.copyOf(passwords);
    this.keyPasswords = List.copyOf(keyPasswords);
    this.alias = alias;
    this.byRoot = byRoot;
  }

  /**
   * {@return a file without a password, read by the account of the server}
   *
   * @param role what it is for
   * @param path where it is, resolved as the server does it
   * @param setting the name of the setting
   * @param origin where the setting stands
   */
  public static UsedFile of(FileRole role, Path path, String setting, Origin origin) {
    return new UsedFile(role, path, setting, origin, List.of(), List.of(), null, false);
  }

  /**
   * {@return the same with passwords for it}
   *
   * @param all the passwords of the file itself; of several, one opens it
   */
  public UsedFile withPasswords(List<Secret> all) {
    return new UsedFile(role, path, setting, origin, all, keyPasswords, alias, byRoot);
  }

  /**
   * {@return the same with the passwords of the key in it, where it has one of its own}
   *
   * @param all the passwords of the key
   */
  public UsedFile withKeyPasswords(List<Secret> all) {
    return new UsedFile(role, path, setting, origin, passwords, all, alias, byRoot);
  }

  /**
   * {@return the same with the one entry that counts}
   *
   * @param name its alias; nothing where all count
   */
  public UsedFile withAlias(Optional<String> name) {
    return new UsedFile(
        role, path, setting, origin, passwords, keyPasswords, name.orElse(null), byRoot);
  }

  /** {@return the same, read by the server before it gives up the rights of root} */
  public UsedFile readByRoot() {
    return new UsedFile(role, path, setting, origin, passwords, keyPasswords, alias, true);
  }

  /** {@return what it is for} */
  public FileRole role() {
    return role;
  }

  /** {@return where it is, resolved as the server does it} */
  public Path path() {
    return path;
  }

  /** {@return the name of the setting} */
  public String setting() {
    return setting;
  }

  /** {@return where the setting stands} */
  public Origin origin() {
    return origin;
  }

  /** {@return all passwords that the settings give for it: those of the file, then of its key} */
  public List<Secret> passwords() {
    return Stream.concat(passwords.stream(), keyPasswords.stream()).toList();
  }

  /** {@return the password of the file itself} */
  public Optional<Secret> password() {
    return passwords.stream().findFirst();
  }

  /** {@return the alias of the one entry that counts; nothing where all do} */
  public Optional<String> alias() {
    return Optional.ofNullable(alias);
  }

  /** {@return whether the server reads it before it gives up the rights of root} */
  public boolean byRoot() {
    return byRoot;
  }

  @Override
  public String toString() {
    return role.title() + " " + path + " (" + setting + ")";
  }
}
