// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.UserPrincipal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The folder beside files in which their earlier versions are kept. It belongs to the account that
 * replaced them and to nobody else; one that somebody else owns or may write to is not used, since
 * that one could have planted what is then brought back. An account that finds another's there
 * makes one with its own name behind.
 */
final class UndoFolder {
  private UndoFolder() {}

  /** The names that it may bear, the ordinary one first. */
  static List<String> names() {
    List<String> names = new ArrayList<>();
    names.add(Undo.FOLDER);
    String account = Accounts.us().getName();
    if (account.matches("[A-Za-z0-9_][A-Za-z0-9_.-]*")) {
      names.add(Undo.FOLDER + "-" + account);
    }
    return names;
  }

  /** The one that is ours; nothing if there is none. */
  static Optional<OpenFolder> open(OpenFolder folder) throws IOException {
    for (String name : names()) {
      Optional<OpenFolder> found = ours(folder, folder.name(name));
      if (found.isPresent()) {
        return found;
      }
    }
    return Optional.empty();
  }

  private static Optional<OpenFolder> ours(OpenFolder folder, Path name) throws IOException {
    if (!folder.has(name) || !folder.attributes(name).isDirectory()) {
      return Optional.empty();
    }
    OpenFolder found;
    try {
      found = folder.enter(name);
    } catch (AccessDeniedException | NoSuchFileException e) {
      return Optional.empty();
    }
    if (isTrusted(found.rights())) {
      return Optional.of(found);
    }
    found.close();
    return Optional.empty();
  }

  private static boolean isTrusted(Rights rights) {
    return !(rights instanceof Rights.Posix posix)
        || (Accounts.isUs(posix.owner()) && !FolderGuard.othersMayWrite(posix.permissions()));
  }

  /** The owner of a folder of that name that is not trusted, for what is said of it. */
  static Optional<String> foreign(OpenFolder folder) throws IOException {
    Path name = folder.name(Undo.FOLDER);
    if (!folder.has(name)
        || !(folder.rights(name) instanceof Rights.Posix rights)
        || isTrusted(rights)) {
      return Optional.empty();
    }
    UserPrincipal owner = rights.owner();
    return Optional.of(VisibleText.of(owner.getName()));
  }

  /** The one that is ours, made if there is none. */
  static OpenFolder openOrMake(OpenFolder folder) throws IOException {
    Optional<OpenFolder> found = open(folder);
    if (found.isPresent()) {
      return found.get();
    }
    for (String name : names()) {
      try {
        return folder.make(folder.name(name));
      } catch (FileAlreadyExistsException e) {
        // another's: the next name
      }
    }
    throw new FileSystemException(
        folder.path().resolve(Undo.FOLDER).toString(),
        null,
        "it is not this account's alone, so that nothing can be kept for undo; remove it");
  }

  static void removeIfEmpty(OpenFolder folder) throws IOException {
    for (String name : names()) {
      Optional<OpenFolder> found = ours(folder, folder.name(name));
      if (found.isPresent()) {
        boolean empty;
        try (OpenFolder kept = found.get()) {
          empty = kept.names().isEmpty();
        }
        try {
          if (empty) {
            folder.deleteFolder(folder.name(name));
          }
        } catch (DirectoryNotEmptyException e) {
          // something was kept in it just now
        }
      }
    }
  }
}
