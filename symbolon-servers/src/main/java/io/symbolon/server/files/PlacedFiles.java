// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.files;

import io.symbolon.file.Owner;
import io.symbolon.file.Privacy;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientTrust;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The files that a server is to be given, gathered while its settings are proposed. Not for several
 * threads.
 */
public final class PlacedFiles {
  private final Machine machine;
  private final Path folder;
  private final Optional<Owner> owner;
  private final List<FileChange> changes = new ArrayList<>();

  /**
   * None yet.
   *
   * @param folder where they go
   * @param owner to whom those with secrets are to belong
   */
  public PlacedFiles(Machine machine, Path folder, Optional<Owner> owner) {
    this.machine = machine;
    this.folder = folder;
    this.owner = owner;
  }

  /** {@return where they go} */
  public Path folder() {
    return folder;
  }

  /**
   * Adds a file of text.
   *
   * @param name its name in the folder
   * @param text what it holds
   * @param holds what that is, as words
   * @param secret whether only its owner may read it
   * @return where it will be
   */
  public Path add(String name, String text, String holds, boolean secret) {
    return add(name, text.getBytes(StandardCharsets.UTF_8), holds, secret);
  }

  /**
   * Adds a file.
   *
   * @param name its name in the folder
   * @param content what it holds
   * @param holds what that is, as words
   * @param secret whether only its owner may read it
   * @return where it will be
   */
  public Path add(String name, byte[] content, String holds, boolean secret) {
    return add(folder.resolve(name), content, holds, secret, owner);
  }

  /**
   * Adds a file.
   *
   * @param path where it will be
   * @param content what it holds
   * @param holds what that is, as words
   * @param secret whether only its owner may read it
   * @param whose to whom it is to belong, where it is secret
   * @return where it will be
   */
  public Path add(Path path, byte[] content, String holds, boolean secret, Optional<Owner> whose) {
    Optional<FileView.ReadFile> there = machine.files().read(path);
    changes.add(
        new FileChange(
            path,
            there.map(FileView.ReadFile::octets),
            there.flatMap(FileView.ReadFile::snapshot),
            content,
            false,
            holds,
            secret ? Privacy.OWNER_ONLY : Privacy.SYSTEM_DEFAULT,
            secret ? whose : Optional.empty()));
    return path;
  }

  /**
   * Adds the authorities of a server's clients.
   *
   * @param base the name of the server's files, without an ending
   * @param trust whom it trusts
   * @return where they will be
   */
  public Path clients(String base, ClientTrust trust) {
    return add(
        base + "-clients.pem",
        PemFiles.certificates(trust),
        "the authorities of the clients",
        false);
  }

  /**
   * Adds the revocation lists for a server's clients.
   *
   * @param base the name of the server's files, without an ending
   * @param trust whom it trusts
   * @return where they will be
   */
  public Path lists(String base, ClientTrust trust) {
    return add(
        base + "-lists.pem",
        PemFiles.lists(trust.lists()),
        "the revocation lists for clients",
        false);
  }

  /** {@return the files} */
  public List<FileChange> changes() {
    return List.copyOf(changes);
  }

  /** {@return the folders that have to be made for them, the outer ones first} */
  public List<Path> newFolders() {
    return newFolders(changes);
  }

  /**
   * {@return the folders that have to be made for files, the outer ones first}
   *
   * @param changes the files
   */
  public static List<Path> newFolders(List<FileChange> changes) {
    Set<Path> folders = new LinkedHashSet<>();
    for (FileChange change : changes) {
      Deque<Path> missing = new ArrayDeque<>();
      Path parent = change.path().toAbsolutePath().getParent();
      while (parent != null && !Files.isDirectory(parent)) {
        missing.push(parent);
        parent = parent.getParent();
      }
      folders.addAll(missing);
    }
    return List.copyOf(folders);
  }
}
