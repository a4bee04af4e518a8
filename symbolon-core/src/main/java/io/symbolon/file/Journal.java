// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What a step is about to do, written into its record before it does it.
 *
 * @param at when it began, by the clock
 * @param changes what gets its name, in this order
 * @param drops what is not kept for undo any more afterwards
 */
record Journal(Instant at, List<Change> changes, List<Drop> drops) {
  /** The file when the step goes forward. */
  static final String NAME = "journal";

  /** The same file when the step is taken back. */
  static final String BACK = "taking-back";

  private static final String FIRST_LINE = "symbolon journal 2";

  Journal {
    changes = List.copyOf(changes);
    drops = List.copyOf(drops);
  }

  /**
   * An earlier version that was brought back.
   *
   * @param folder the folder that it was kept for, as a position in the list of folders
   * @param name the name under which it is kept
   */
  record Drop(int folder, String name) {}

  /**
   * Something that gets its name.
   *
   * @param folder the folder it gets it in, as a position in the list of folders
   * @param number tells its file in the step's own folder
   * @param kind whether it is a file or a new folder with files
   * @param old the file that it replaces, as it was; nothing where the name was free
   * @param fresh the new one
   * @param inner the names of the files in a new folder
   */
  record Change(
      int folder,
      int number,
      Path name,
      ChangeKind kind,
      Optional<Snapshot> old,
      Snapshot fresh,
      List<String> inner) {
    Change {
      inner = List.copyOf(inner);
    }

    /** What a change is about. */
    enum ChangeKind {
      /** It gets its name, or takes the place of another. */
      FILE,
      /** A new folder with its files. */
      FOLDER,
      /** A file that goes, and is kept for undo. */
      GONE
    }

    String stagedName() {
      return number + ".new";
    }

    String oldName() {
      return number + ".old";
    }
  }

  /** What of it is about some of the folders, with their positions among these. */
  Journal only(List<Integer> positions) {
    return new Journal(
        at,
        changes.stream()
            .filter(one -> positions.contains(one.folder()))
            .map(
                one ->
                    new Change(
                        positions.indexOf(one.folder()),
                        one.number(),
                        one.name(),
                        one.kind(),
                        one.old(),
                        one.fresh(),
                        one.inner()))
            .toList(),
        drops.stream()
            .filter(one -> positions.contains(one.folder()))
            .map(one -> new Drop(positions.indexOf(one.folder()), one.name()))
            .toList());
  }

  /** Writes it, on the disk when this returns. */
  void write(OpenFolder record) throws IOException {
    StringBuilder text = new StringBuilder(FIRST_LINE).append("\nat ").append(at).append('\n');
    for (Change change : changes) {
      text.append(change.kind().name().toLowerCase(Locale.ROOT))
          .append(' ')
          .append(change.folder())
          .append(' ')
          .append(change.number())
          .append(' ')
          .append(change.old().map(Snapshot::toWord).orElse("-"))
          .append(' ')
          .append(change.fresh().toWord())
          .append(' ')
          .append(word(change.name().toString()));
      change.inner().forEach(name -> text.append(' ').append(word(name)));
      text.append('\n');
    }
    for (Drop drop : drops) {
      text.append("drop ").append(drop.folder()).append(' ').append(word(drop.name())).append('\n');
    }
    byte[] content = text.toString().getBytes(StandardCharsets.UTF_8);
    Path unnamed = record.name("journal.new");
    try (FileChannel channel = record.create(unnamed)) {
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
    record.rename(unnamed, record, record.name(NAME));
    record.flush();
  }

  /**
   * Reads it.
   *
   * @throws IOException if it is not whole, which a written one always is
   */
  static Journal read(OpenFolder record, String name) throws IOException {
    String text;
    try (FileChannel channel = record.read(record.name(name))) {
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
    Instant at = Instant.EPOCH;
    List<Change> changes = new ArrayList<>();
    List<Drop> drops = new ArrayList<>();
    try {
      for (String line : text.substring(0, end).split("\n", -1)) {
        String[] words = line.split(" ", -1);
        switch (words[0]) {
          case "at" -> at = Instant.parse(words[1]);
          case "file", "folder", "gone" -> changes.add(change(record, words));
          case "drop" -> drops.add(new Drop(Integer.parseInt(words[1]), unword(words[2])));
          default -> {}
        }
      }
    } catch (IllegalArgumentException | IndexOutOfBoundsException | DateTimeParseException e) {
      throw new IOException("a journal that can't be read", e);
    }
    return new Journal(at, changes, drops);
  }

  private static Change change(OpenFolder record, String[] words) {
    List<String> inner = new ArrayList<>();
    for (int i = 6; i < words.length; i++) {
      inner.add(unword(words[i]));
    }
    return new Change(
        Integer.parseInt(words[1]),
        Integer.parseInt(words[2]),
        record.name(unword(words[5])),
        Change.ChangeKind.valueOf(words[0].toUpperCase(Locale.ROOT)),
        words[3].equals("-") ? Optional.empty() : Optional.of(Snapshot.parse(words[3])),
        Snapshot.parse(words[4]),
        inner);
  }

  private static String word(String name) {
    return Hex.of(name.getBytes(StandardCharsets.UTF_8));
  }

  private static String unword(String word) {
    return new String(HexFormat.of().parseHex(word), StandardCharsets.UTF_8);
  }
}
