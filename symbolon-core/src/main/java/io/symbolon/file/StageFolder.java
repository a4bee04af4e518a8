// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.text.Hex;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The folder in which a step prepares its files, beside where they will lie: this account's alone,
 * so that nobody can put anything in the place of what is prepared.
 *
 * <p>Its name, its owner and its mode prove nothing: whoever may rename in the folder around it can
 * give that name to another folder. It is the one that is on record ({@link StepRecord}) by its
 * device and number, and it has the key of that step in it. Only then it is looked into; and what
 * is removed are the files that are on record, never what else may be there.
 */
final class StageFolder {
  /** How its name begins; sixteen random digits follow. */
  static final String PREFIX = ".symbolon-step-";

  private static final Logger LOG = LoggerFactory.getLogger(StageFolder.class);
  private static final String MARK = "mark"; // the key of the step

  private StageFolder() {}

  static String newName() {
    byte[] random = new byte[8];
    new SecureRandom().nextBytes(random);
    return PREFIX + Hex.of(random);
  }

  /** Marks a new one as this step's. */
  static void mark(OpenFolder stage, String key) throws IOException {
    try (FileChannel channel = stage.create(stage.name(MARK))) {
      ByteBuffer content = ByteBuffer.wrap(key.getBytes(StandardCharsets.UTF_8));
      while (content.hasRemaining()) {
        channel.write(content);
      }
    }
  }

  /**
   * Opens the step's own folder.
   *
   * @param at the folder on record
   * @return nothing where it is gone, or where another folder has its name
   */
  static Optional<OpenFolder> enter(OpenFolder folder, StepRecord.Stage stage, StepRecord.Room at)
      throws IOException {
    Path name = folder.name(stage.name());
    if (at.stage().isEmpty() || !folder.has(name)) {
      return Optional.empty();
    }
    OpenFolder found;
    try {
      found = folder.enter(name);
    } catch (NoSuchFileException | NotDirectoryException e) {
      return Optional.empty();
    }
    if (found.id().isSame(at.stage().get(), stage.isSameBoot()) && isMarked(found, stage.key())) {
      return Optional.of(found);
    }
    found.close();
    return Optional.empty();
  }

  private static boolean isMarked(OpenFolder stage, String key) throws IOException {
    if (!stage.has(stage.name(MARK))) {
      return false;
    }
    byte[] wanted = key.getBytes(StandardCharsets.UTF_8);
    try (FileChannel channel = stage.read(stage.name(MARK))) {
      return Arrays.equals(wanted, Channels.newInputStream(channel).readNBytes(wanted.length + 1));
    }
  }

  /**
   * Removes it everywhere: the files that are on record, and the folder itself if it is empty then.
   * Whatever else bears its name is left, and told.
   */
  static void remove(List<OpenFolder> folders, StepRecord.Stage stage) throws IOException {
    for (int i = folders.size() - 1; i >= 0; i--) {
      remove(folders.get(i), stage, stage.rooms().get(i));
    }
  }

  private static void remove(OpenFolder folder, StepRecord.Stage stage, StepRecord.Room at)
      throws IOException {
    Path name = folder.name(stage.name());
    if (!folder.has(name)) {
      return;
    }
    Optional<OpenFolder> own = enter(folder, stage, at);
    if (own.isPresent()) {
      try (OpenFolder opened = own.get()) {
        for (StepRecord.Held held : at.holds()) {
          removeHeld(opened, held);
        }
        opened.deleteIfThere(opened.name(MARK));
      }
    } else if (!isBegunAndOurs(folder, name, at, stage)) {
      LOG.warn(
          "{} is not the folder that was made there and is left as it is",
          NotWritten.shown(folder.path().resolve(name)));
      return;
    }
    try {
      folder.deleteFolder(name);
    } catch (DirectoryNotEmptyException e) {
      LOG.warn(
          "{} contains something that is not on record and is left as it is",
          NotWritten.shown(folder.path().resolve(name)));
    } catch (NoSuchFileException | NotDirectoryException e) {
      LOG.debug("{} is gone", name, e);
    }
  }

  /**
   * One that was made a moment before the process died, or on a disk that was full: nothing is in
   * it but the beginning of its mark, which goes here.
   */
  private static boolean isBegunAndOurs(
      OpenFolder folder, Path name, StepRecord.Room at, StepRecord.Stage stage) throws IOException {
    if (!folder.attributes(name).isDirectory()
        || (folder.rights(name) instanceof Rights.Posix rights
            && !SystemAccounts.isUs(rights.owner()))) {
      return false;
    }
    try (OpenFolder found = folder.enter(name)) {
      boolean same =
          at.stage().isEmpty() || found.id().isSame(at.stage().get(), stage.isSameBoot());
      Path mark = found.name(MARK);
      boolean onlyMark = at.stage().isPresent() && found.names().equals(List.of(mark));
      if (!same || !(found.names().isEmpty() || (onlyMark && isBegun(found, mark, stage.key())))) {
        return false;
      }
      found.deleteIfThere(mark);
      return true;
    } catch (NoSuchFileException | NotDirectoryException e) {
      return false;
    }
  }

  private static boolean isBegun(OpenFolder stage, Path mark, String key) throws IOException {
    try (FileChannel channel = stage.read(mark)) {
      byte[] there = Channels.newInputStream(channel).readNBytes(key.length());
      return key.startsWith(new String(there, StandardCharsets.UTF_8));
    }
  }

  private static void removeHeld(OpenFolder stage, StepRecord.Held held) throws IOException {
    Path name = stage.name(held.name());
    if (!held.isFolder()) {
      stage.deleteIfThere(name);
    } else if (stage.has(name)) {
      removeFolder(stage, name, held.inner());
    }
  }

  /** Removes a folder with files of ours in it, as far as there is nothing else in it. */
  static void removeFolder(OpenFolder around, Path name, List<String> files) throws IOException {
    try (OpenFolder inside = around.enter(name)) {
      for (String file : files) {
        inside.deleteIfThere(inside.name(file));
      }
    }
    try {
      around.deleteFolder(name);
    } catch (DirectoryNotEmptyException e) {
      LOG.warn(
          "{} contains something that was put there since and is left as it is",
          NotWritten.shown(around.path().resolve(name)));
    }
  }
}
