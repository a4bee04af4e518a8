// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.file.Existing;
import io.symbolon.file.Owner;
import io.symbolon.file.SafeFile;
import io.symbolon.file.Snapshot;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.remedy.Input;
import io.symbolon.task.WrongJob;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Where a result goes, and in which format.
 *
 * @param path the file or the folder
 * @param target the format
 * @param folder whether each object gets a file of its own in a folder
 * @param owner to whom the files shall belong, where that is said
 * @param expected the file that is replaced, as it was when it was read
 * @param newFolders folders that are made if they are not there
 */
public record Destination(
    Path path,
    Format target,
    boolean folder,
    Optional<Owner> owner,
    Optional<Snapshot> expected,
    List<Path> newFolders) {
  public Destination(Path path, Format target, boolean folder) {
    this(
        path,
        target,
        folder,
        Optional.empty(),
        Optional.empty(),
        folder ? List.of(path) : List.of());
  }

  /** The same for an owner. */
  public Destination ownedBy(Optional<Owner> other) {
    return new Destination(path, target, folder, other, expected, newFolders);
  }

  /** The same in the place of a file that was read. */
  public Destination expecting(Snapshot snapshot) {
    return new Destination(path, target, folder, owner, Optional.of(snapshot), newFolders);
  }

  /** The same with these folders made if they are not there. */
  public Destination making(List<Path> folders) {
    return new Destination(path, target, folder, owner, expected, folders);
  }

  /**
   * {@return a file whose ending tells the format}
   *
   * @throws WrongJob if it does not tell it
   */
  public static Destination of(Path file) {
    String name = String.valueOf(file.getFileName());
    return of(
        file,
        Format.ofName(name)
            .orElseThrow(
                () ->
                    new WrongJob(
                        "The name " + VisibleText.of(name) + " does not tell the format.",
                        "Say the format with " + Input.FORMAT.mention() + ".")));
  }

  /**
   * {@return a file or a folder}
   *
   * @param path where it is; a folder gets each object as a file of its own
   * @param target the format
   * @throws WrongJob if the format is one file, and the path a folder
   */
  public static Destination of(Path path, Format target) {
    return of(path, target, Files.isDirectory(path));
  }

  /** The same where it is said whether the path is a folder. */
  public static Destination of(Path path, Format target, boolean folder) {
    if (folder && !target.can(Ability.FOLDERS)) {
      throw new WrongJob(
          VisibleText.of(path.toString()) + " is a folder, and " + target.title() + " is one file.",
          "Name the file, or choose "
              + Input.FORMAT.mention("pem")
              + " or "
              + Input.FORMAT.mention("der")
              + " for one file each.");
    }
    return new Destination(path, target, folder);
  }

  /** Refuses early what could not be written later. */
  public void check(Existing existing) {
    if (!folder) {
      SafeFile.check(path, existing);
    }
  }

  /** The same where a private key is written. */
  public void checkPrivate(Existing existing) {
    if (!folder) {
      SafeFile.checkPrivate(path, existing, owner);
    }
  }

  public String shown() {
    return VisibleText.of(path.toString());
  }
}
