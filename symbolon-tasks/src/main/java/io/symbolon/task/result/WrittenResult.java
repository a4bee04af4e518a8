// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.EncodedFile;
import io.symbolon.entry.StoreEntry;
import io.symbolon.file.Access;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.task.TaskRun;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * What was written.
 *
 * @param destination where to
 * @param conversion what
 * @param files the files, and where older ones were put aside
 * @param sealed how it is sealed; nothing where it is open
 * @param source where its password can be read again, such as {@code file=PATH}
 * @param findings what is to be said about it
 */
public record WrittenResult(
    Destination destination,
    Conversion conversion,
    List<WrittenFile> files,
    Optional<OutputProtection.Sealed> sealed,
    Optional<String> source,
    List<Finding> findings) {
  /**
   * A file that was written.
   *
   * @param secret whether a private key is in it
   * @param aside where the file is kept that was there before
   * @param access who may read it
   */
  public record WrittenFile(Path path, boolean secret, Optional<Path> aside, Access access) {}

  /** Asks for the passwords that are needed, encodes, proves and writes: all of it or nothing. */
  public static WrittenResult write(
      TaskRun run, ResultOptions options, Destination destination, Conversion conversion) {
    return write(
        run,
        destination,
        conversion,
        options.existing(),
        OutputProtection.of(run, options, destination, conversion.holdsKeys()),
        List.of());
  }

  /**
   * The same with passwords that are known, together with other files.
   *
   * @param extra files that are written as well, or nothing is
   */
  public static WrittenResult write(
      TaskRun run,
      Destination destination,
      Conversion conversion,
      Existing existing,
      OutputProtection guard,
      List<FileItem> extra) {
    return write(run, destination, conversion, existing, guard, extra, () -> {});
  }

  /**
   * The same with something that is done when everything is ready, and nothing has its name yet.
   *
   * @param before what is done; where it throws, nothing has changed
   */
  public static WrittenResult write(
      TaskRun run,
      Destination destination,
      Conversion conversion,
      Existing existing,
      OutputProtection guard,
      List<FileItem> extra,
      Runnable before) {
    SecureRandom random = new SecureRandom();
    List<EncodedFile> encoded =
        destination.folder()
            ? conversion.encodeEach(guard.wrapping(), random)
            : List.of(
                conversion.encode(
                    String.valueOf(destination.path().getFileName()), guard.wrapping(), random));
    List<WrittenFile> written;
    try {
      written = write(destination, encoded, existing, guard, extra, before);
    } finally {
      encoded.forEach(file -> Arrays.fill(file.content(), (byte) 0));
    }
    List<Finding> findings = new ArrayList<>(conversion.findings());
    findings.addAll(
        WrittenFindings.of(
            run,
            destination,
            conversion,
            written,
            guard.strength(),
            guard.seal(),
            guard.sealKey()));
    return new WrittenResult(
        destination,
        conversion,
        written,
        guard.sealed(destination.target()),
        guard.seal().map(SealPassword::source),
        findings);
  }

  private static List<WrittenFile> write(
      Destination destination,
      List<EncodedFile> encoded,
      Existing existing,
      OutputProtection guard,
      List<FileItem> extra,
      Runnable before) {
    List<FileItem> items = new ArrayList<>();
    items.addAll(guard.passwordFiles());
    int first = items.size();
    for (EncodedFile file : encoded) {
      items.add(
          new FileItem(
                  destination.folder()
                      ? destination.path().resolve(file.name())
                      : destination.path(),
                  file.content(),
                  file.secret() ? Privacy.OWNER_ONLY : Privacy.SYSTEM_DEFAULT,
                  existing)
              .withOwner(destination.owner())
              .expecting(destination.expected()));
    }
    int last = items.size();
    items.addAll(extra);
    List<Path> folders = new ArrayList<>(destination.newFolders());
    try {
      List<WrittenItem> files = FileSet.write(items, folders, before);
      List<WrittenFile> written = new ArrayList<>();
      for (int i = first; i < last; i++) {
        WrittenItem file = files.get(i);
        written.add(
            new WrittenFile(
                items.get(i).target(),
                encoded.get(i - first).secret(),
                file.aside(),
                file.access()));
      }
      return written;
    } finally {
      items.subList(0, first).forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
  }

  /** The same with more to say. */
  public WrittenResult with(List<Finding> more) {
    List<Finding> all = new ArrayList<>(findings);
    all.addAll(more);
    return new WrittenResult(destination, conversion, files, sealed, source, all);
  }

  /** {@return everything that was written} */
  public Bundle bundle() {
    return conversion.bundle();
  }

  /** {@return the entries that were written} */
  public List<StoreEntry> entries() {
    return bundle().entries();
  }

  /** {@return what is not in it, as it was told before it was written} */
  public List<Finding> leftOut() {
    return conversion.findings();
  }
}
