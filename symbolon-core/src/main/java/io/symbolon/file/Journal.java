// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import java.io.IOException;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a step is about to do, written down before it does it.
 *
 * @param folders the folders it works in; the journal lies in the first one's
 * @param changes what gets its name, in this order
 * @param drops what is not kept for undo any more afterwards
 */
record Journal(List<JournalPath> folders, List<Change> changes, List<Drop> drops) {
  /** The file when the step goes forward. */
  static final String NAME = "journal";

  /** The same file when the step is taken back. */
  static final String BACK = "taking-back";

  private static final String FIRST_LINE = "symbolon step 1";

  Journal {
    folders = List.copyOf(folders);
    changes = List.copyOf(changes);
    drops = List.copyOf(drops);
  }

  /**
   * An earlier version that was brought back.
   *
   * @param folder the folder whose folder for undo it is in, as a position in the list of folders
   * @param name the name under which it is kept
   */
  record Drop(int folder, String name) {}

  /**
   * A folder that is worked in.
   *
   * @param path where it is
   * @param number its number in the file system; empty where it has none
   */
  record JournalPath(Path path, String number) {}

  /**
   * Something that gets its name.
   *
   * @param folder the folder it gets it in, as a position in the list of folders
   * @param number tells its file in the step's own folder
   * @param name the name
   * @param kind whether it is a file or a new folder with files
   * @param old the file that it replaces, as it was; nothing where the name was free
   * @param fresh the new one
   * @param undo the name under which the old one is kept, or says that there was none; empty where
   *     nothing is kept
   */
  record Change(
      int folder,
      int number,
      Path name,
      ChangeKind kind,
      Optional<Snapshot> old,
      Snapshot fresh,
      String undo) {
    /** What a change is about. */
    enum ChangeKind {
      /** It gets its name, or takes the place of another. */
      FILE,
      /** A new folder with its files. */
      FOLDER,
      /** A file that goes, and is kept for undo. */
      GONE
    }

    /** What stands for a kind in a line. */
    private static final Map<ChangeKind, String> WORDS =
        Map.of(ChangeKind.FILE, "file", ChangeKind.FOLDER, "made", ChangeKind.GONE, "gone");

    String stagedName() {
      return number + ".new";
    }

    String oldName() {
      return number + ".old";
    }
  }

  /** Writes it, on the disk when this returns. */
  void write(OpenFolder stage) throws IOException {
    StringBuilder text = new StringBuilder(FIRST_LINE).append('\n');
    for (JournalPath place : folders) {
      text.append("folder ")
          .append(place.number())
          .append(' ')
          .append(place.path().toUri())
          .append('\n');
    }
    for (Change change : changes) {
      String uri = folders.get(change.folder()).path().resolve(change.name()).toUri().toString();
      text.append(Change.WORDS.get(change.kind()))
          .append(' ')
          .append(change.folder())
          .append(' ')
          .append(change.number())
          .append(' ')
          .append(change.old().map(Snapshot::toWord).orElse("-"))
          .append(' ')
          .append(change.fresh().toWord())
          .append(' ')
          .append(change.undo().isEmpty() ? "-" : change.undo().substring(0, Undo.STAMP_LENGTH))
          .append(' ')
          .append(uri)
          .append('\n');
    }
    for (Drop drop : drops) {
      text.append("drop ")
          .append(drop.folder())
          .append(' ')
          .append(Hex.of(drop.name().getBytes(StandardCharsets.UTF_8)))
          .append('\n');
    }
    byte[] content = text.toString().getBytes(StandardCharsets.UTF_8);
    Path unnamed = stage.name("journal.new");
    try (FileChannel channel = stage.create(unnamed)) {
      ByteBuffer buffer = ByteBuffer.wrap(content);
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      ByteBuffer end =
          ByteBuffer.wrap(("end " + Hex.sha256(content) + "\n").getBytes(StandardCharsets.UTF_8));
      while (end.hasRemaining()) {
        channel.write(end);
      }
      channel.force(true);
    }
    stage.rename(unnamed, stage, stage.name(NAME));
    stage.flush();
  }

  /**
   * Reads it.
   *
   * @throws IOException if it is not whole, which a written one always is
   */
  static Journal read(OpenFolder stage, String name) throws IOException {
    String text;
    try (FileChannel channel = stage.read(stage.name(name))) {
      if (channel.size() > Limits.JOURNAL_BYTES) {
        throw new IOException("a journal of " + channel.size() + " octets");
      }
      text =
          new String(
              Channels.newInputStream(channel).readNBytes(Limits.JOURNAL_BYTES),
              StandardCharsets.UTF_8);
    }
    int end = text.lastIndexOf("end ");
    if (!text.startsWith(FIRST_LINE)
        || end < 0
        || !text.substring(end)
            .equals(
                "end "
                    + Hex.sha256(text.substring(0, end).getBytes(StandardCharsets.UTF_8))
                    + "\n")) {
      throw new IOException("a journal that is not whole");
    }
    List<JournalPath> folders = new ArrayList<>();
    List<Change> changes = new ArrayList<>();
    List<Drop> drops = new ArrayList<>();
    try {
      for (String line : text.substring(0, end).split("\n", -1)) {
        String[] words = line.split(" ", -1);
        if (words[0].equals("folder")) {
          folders.add(new JournalPath(Path.of(URI.create(words[2])), words[1]));
        } else if (Change.WORDS.containsValue(words[0])) {
          changes.add(change(words));
        } else if (words[0].equals("drop")) {
          byte[] dropped = HexFormat.of().parseHex(words[2]);
          drops.add(
              new Drop(Integer.parseInt(words[1]), new String(dropped, StandardCharsets.UTF_8)));
        }
      }
    } catch (IllegalArgumentException
        | IndexOutOfBoundsException
        | FileSystemNotFoundException
        | java.time.DateTimeException e) {
      throw new IOException("a journal that can't be read", e);
    }
    return new Journal(folders, changes, drops);
  }

  private static Change change(String[] words) {
    Path name = Path.of(URI.create(words[6])).getFileName();
    boolean replaces = !words[3].equals("-");
    return new Change(
        Integer.parseInt(words[1]),
        Integer.parseInt(words[2]),
        name,
        Change.WORDS.entrySet().stream()
            .filter(one -> one.getValue().equals(words[0]))
            .map(Map.Entry::getKey)
            .findFirst()
            .orElseThrow(IllegalArgumentException::new),
        words[3].equals("-") ? Optional.empty() : Optional.of(Snapshot.parse(words[3])),
        Snapshot.parse(words[4]),
        words[5].equals("-")
            ? ""
            : replaces ? Undo.keptName(words[5], name) : Undo.absentName(words[5], name));
  }
}
