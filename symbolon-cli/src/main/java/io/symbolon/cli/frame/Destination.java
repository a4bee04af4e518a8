// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.Output;
import io.symbolon.file.Existing;
import io.symbolon.file.Owner;
import io.symbolon.file.SafeFile;
import io.symbolon.file.Snapshot;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

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

  /** Where --into says. */
  public static Destination of(GivenOptions given) {
    String into =
        given
            .value("into")
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "No output file is given.",
                        "Use --into FILE, such as --into keystore.p12."));
    return of(into, given.value("as")).ownedBy(given.owner());
  }

  /** Where a text says, in a format that is said or told from the name. */
  public static Destination of(String into, Optional<String> as) {
    Path path = GivenOptions.path(into);
    boolean folder = into.endsWith("/") || into.endsWith("\\") || Files.isDirectory(path);
    Format target = as.map(Destination::ofWord).orElseGet(() -> ofName(into, folder));
    if (folder && !target.can(Ability.FOLDERS)) {
      throw Usage.wrong(
          Output.shown(path) + " is a folder, and " + target.title() + " is one file.",
          "Name the file, or choose --as pem or --as der for one file each.");
    }
    return new Destination(path, target, folder);
  }

  private static Format ofWord(String word) {
    return Format.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no format '" + VisibleText.of(word) + "'.",
                    "Say one of " + words() + "."));
  }

  private static Format ofName(String into, boolean folder) {
    if (folder) {
      return Format.PEM;
    }
    return Format.ofName(into)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "The name " + VisibleText.of(into) + " does not tell the format.",
                    "End it in "
                        + endings()
                        + ", or say the format with --as: "
                        + words()
                        + ". A folder ends in /."));
  }

  private static String words() {
    return Format.written().stream().map(Format::word).collect(Collectors.joining(", "));
  }

  private static String endings() {
    return Format.written().stream()
        .flatMap(target -> target.endings().stream().limit(1))
        .collect(Collectors.joining(", "));
  }

  /** Every format with the endings that tell it, for the help. */
  public static String help() {
    return Format.written().stream()
        .map(
            target ->
                target.word()
                    + (target.endings().isEmpty()
                        ? ""
                        : " (" + String.join(" ", target.endings()) + ")"))
        .collect(Collectors.joining(", "));
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
    return Output.shown(path);
  }
}
