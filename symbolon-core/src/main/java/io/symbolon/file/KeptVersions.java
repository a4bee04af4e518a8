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
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The earlier versions of files, in the state folder of the account that replaced them: a folder
 * {@code kept/FOLDER} for each folder of files, in it for each step a list {@code NUMBER} and its
 * files {@code NUMBER-N}. The number of the step gives the order; the clock is only shown.
 */
final class KeptVersions {
  /** How many earlier versions of a file are kept. */
  static final int MOST = 50;

  private static final Logger LOG = LoggerFactory.getLogger(KeptVersions.class);
  private static final String KEPT = "kept";
  private static final String FIRST_LINE = "symbolon kept 1";
  private static final int KEY_LENGTH = 32;

  private KeptVersions() {}

  /**
   * An earlier version.
   *
   * @param name the name of the file
   * @param step the number of the step that replaced it
   * @param number tells it in that step
   * @param at when it was replaced, by the clock of that moment
   * @param absent whether there was no such file
   * @param folder which folder the file lay in
   */
  record Entry(Path name, long step, int number, Instant at, boolean absent, FileId folder) {
    /** The name of the file that holds it. */
    String keptName() {
      return contentName(step, number);
    }
  }

  /** A file of which something is kept, before it has a moment. */
  record Kept(Path name, int number, boolean absent) {}

  private static String listName(long step) {
    return String.format(java.util.Locale.ROOT, "%012d", step);
  }

  static String contentName(long step, int number) {
    return listName(step) + "-" + number;
  }

  private static String key(Path folder) {
    String text = folder.toUri().toString();
    return Hex.sha256(text.getBytes(StandardCharsets.UTF_8)).substring(0, KEY_LENGTH);
  }

  /** Where the version of a file will be. */
  static Path place(OpenFolder state, Path folder, long step, int number) {
    return state.path().resolve(KEPT).resolve(key(folder)).resolve(contentName(step, number));
  }

  private static String recordName(int position) {
    return position + ".list";
  }

  /** Writes down what a step keeps of a folder, in its record for now. */
  static void note(OpenFolder record, int position, OpenFolder folder, Instant at, List<Kept> files)
      throws IOException {
    StringBuilder text = new StringBuilder(FIRST_LINE).append('\n');
    text.append("at ").append(at).append('\n');
    text.append("folder ").append(folder.id().toWord()).append(' ');
    text.append(folder.path().toUri()).append('\n');
    for (Kept file : files) {
      text.append(file.absent() ? "absent " : "file ")
          .append(file.number())
          .append(' ')
          .append(Hex.of(file.name().toString().getBytes(StandardCharsets.UTF_8)))
          .append('\n');
    }
    text.append("end\n");
    try (FileChannel channel = record.create(record.name(recordName(position)))) {
      ByteBuffer buffer = ByteBuffer.wrap(text.toString().getBytes(StandardCharsets.UTF_8));
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      channel.force(true);
    }
  }

  /** Moves what a step has kept from its record to where it stays. Doing it again does no harm. */
  static void keep(StepRecord record, List<StepRecord.Room> rooms) throws IOException {
    OpenFolder from = record.folder();
    for (int position = 0; position < rooms.size(); position++) {
      Path list = from.name(recordName(position));
      if (!from.has(list)) {
        continue;
      }
      Path folder = rooms.get(position).path();
      try (OpenFolder kept = StateFolder.openIn(record.state(), KEPT);
          OpenFolder to = StateFolder.openIn(kept, key(folder))) {
        for (Entry entry : read(from, list, record.number(), folder)) {
          Path content = from.name(entry.number() + ".old");
          if (from.has(content)) {
            from.rename(content, to, to.name(entry.keptName()));
          }
        }
        from.rename(list, to, to.name(listName(record.number())));
        to.flush();
      }
    }
  }

  /** What is kept of the files of a folder, the latest first. */
  static List<Entry> of(OpenFolder state, Path folder) throws IOException {
    List<Entry> entries = new ArrayList<>();
    try (OpenFolder kept = state.enter(state.name(KEPT));
        OpenFolder own = kept.enter(kept.name(key(folder)))) {
      List<Path> names = own.names();
      java.util.Set<String> there = new java.util.HashSet<>();
      names.forEach(name -> there.add(name.toString()));
      for (Path name : names) {
        if (name.toString().matches("\\d{12}")) {
          read(own, name, Long.parseLong(name.toString()), folder).stream()
              .filter(entry -> there.contains(entry.keptName()))
              .forEach(entries::add);
        }
      }
    } catch (NoSuchFileException e) {
      return List.of();
    }
    entries.sort(
        Comparator.comparing(Entry::step).reversed().thenComparing(entry -> entry.number()));
    return entries;
  }

  /** Opens the folder with the versions; nothing where nothing is kept. */
  static Optional<OpenFolder> open(OpenFolder state, Path folder) throws IOException {
    try (OpenFolder kept = state.enter(state.name(KEPT))) {
      return Optional.of(kept.enter(kept.name(key(folder))));
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
  }

  private static List<Entry> read(OpenFolder from, Path list, long step, Path folder)
      throws IOException {
    String text;
    try (FileChannel channel = from.read(list)) {
      text =
          new String(
              Channels.newInputStream(channel).readNBytes(Limits.JOURNAL_BYTES),
              StandardCharsets.UTF_8);
    }
    if (!text.startsWith(FIRST_LINE + "\n") || !text.endsWith("\nend\n")) {
      LOG.warn("{} can't be read and is passed over", NotWritten.shown(from.path().resolve(list)));
      return List.of();
    }
    List<Entry> entries = new ArrayList<>();
    Instant at = Instant.EPOCH;
    @Nullable FileId id = null;
    try {
      for (String line : text.split("\n", -1)) {
        String[] words = line.split(" ", -1);
        switch (words[0]) {
          case "at" -> at = Instant.parse(words[1]);
          case "folder" -> {
            id = FileId.parse(words[1]);
            if (!Path.of(URI.create(words[2])).equals(folder)) {
              return List.of(); // two folders with the same key
            }
          }
          case "file", "absent" ->
              entries.add(
                  new Entry(
                      from.name(
                          new String(HexFormat.of().parseHex(words[2]), StandardCharsets.UTF_8)),
                      step,
                      Integer.parseInt(words[1]),
                      at,
                      words[0].equals("absent"),
                      java.util.Objects.requireNonNull(id)));
          default -> {}
        }
      }
    } catch (IllegalArgumentException
        | IndexOutOfBoundsException
        | NullPointerException
        | FileSystemNotFoundException
        | DateTimeParseException e) {
      LOG.warn("{} can't be read and is passed over", NotWritten.shown(from.path().resolve(list)));
      return List.of();
    }
    return entries;
  }

  /** Removes the oldest versions of each file, where there are too many. */
  static void prune(OpenFolder state, Path folder) throws IOException {
    Map<Path, Integer> counts = new HashMap<>();
    List<Entry> surplus = new ArrayList<>();
    for (Entry entry : of(state, folder)) {
      if (counts.merge(entry.name(), 1, Integer::sum) > MOST) {
        surplus.add(entry);
      }
    }
    if (!surplus.isEmpty()) {
      remove(state, folder, surplus.stream().map(Entry::keptName).toList());
    }
  }

  /** Removes versions, and the lists of which nothing is left. */
  static void remove(OpenFolder state, Path folder, List<String> keptNames) throws IOException {
    Optional<OpenFolder> found = open(state, folder);
    if (found.isEmpty()) {
      return;
    }
    try (OpenFolder own = found.get()) {
      for (String name : keptNames) {
        own.deleteIfThere(own.name(name));
      }
      List<String> left = own.names().stream().map(Path::toString).toList();
      for (String name : keptNames) {
        String list = name.substring(0, name.indexOf('-'));
        if (left.stream().noneMatch(one -> one.startsWith(list + "-"))) {
          own.deleteIfThere(own.name(list));
        }
      }
      own.flush();
    }
  }

  /** A moment at which nothing that is kept of these folders was replaced. */
  static Instant freeMoment(OpenFolder state, List<Path> folders, Instant when) throws IOException {
    java.util.Set<Instant> taken = new java.util.HashSet<>();
    for (Path folder : folders) {
      of(state, folder).forEach(entry -> taken.add(entry.at()));
    }
    Instant moment = when.truncatedTo(java.time.temporal.ChronoUnit.MILLIS);
    while (taken.contains(moment)) {
      moment = moment.plusMillis(1);
    }
    return moment;
  }

  /** Makes an empty file in a record, which says that there was no such file. */
  static void noteAbsent(OpenFolder record, int number) throws IOException {
    try {
      record.create(record.name(number + ".old")).close();
    } catch (FileAlreadyExistsException e) {
      throw new IOException("two files of a step have one number", e);
    }
  }
}
