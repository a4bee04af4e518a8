// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import java.io.Closeable;
import java.io.IOException;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A step that has begun, on record in the state folder before anything of it is anywhere else: its
 * number, the folders it works in, the folder that it makes in each of them, what it puts there,
 * and later its journal. Whoever finds one whose process is gone knows all that it may have left,
 * and believes nothing that lies elsewhere.
 *
 * <p>A record lives in a folder of its own, {@code open/NUMBER}. It is held by a lock on a file in
 * there, which the system lets go of when the process dies.
 */
final class StepRecord implements Closeable {
  static final String OPEN = "open";

  private static final String PLAN = "plan";
  private static final String LOCK = "lock";
  private static final String COUNTER = "number";
  private static final String FIRST_LINE = "symbolon step 2";
  private static final long LEFT_OUT = 1_000;
  private static final Path BOOT = Path.of("/proc/sys/kernel/random/boot_id");

  private static final Logger LOG = LoggerFactory.getLogger(StepRecord.class);

  private final OpenFolder state;
  private final OpenFolder own;
  private final long number;
  private final ProcessLock lock;

  private StepRecord(OpenFolder state, OpenFolder own, long number, ProcessLock lock) {
    this.state = state;
    this.own = own;
    this.number = number;
    this.lock = lock;
  }

  /**
   * What a step has made beside the files.
   *
   * @param name the name of its folder in each of the folders that it works in
   * @param key what marks that folder as this step's
   * @param boot since when the machine runs; empty where it does not tell
   * @param rooms the folders that it works in
   */
  record Stage(String name, String key, String boot, List<Room> rooms) {
    Stage {
      rooms = List.copyOf(rooms);
    }

    static Stage of(String name, List<Room> rooms) {
      byte[] random = new byte[16];
      new SecureRandom().nextBytes(random);
      return new Stage(name, Hex.of(random), thisBoot(), rooms);
    }

    /** The same once the step's own folders are made. */
    Stage with(List<Room> made) {
      return new Stage(name, key, boot, made);
    }

    boolean isSameBoot() {
      return boot.equals(thisBoot());
    }

    private static String thisBoot() {
      try {
        return Files.readString(BOOT).strip();
      } catch (IOException e) {
        return "-";
      }
    }
  }

  /**
   * A folder that is worked in.
   *
   * @param folder which one it is
   * @param stage which one the step's own folder in it is; nothing until it is made
   * @param holds what is put into the step's own folder
   */
  record Room(Path path, FileId folder, Optional<FileId> stage, List<Held> holds) {
    Room {
      holds = List.copyOf(holds);
    }

    Room with(FileId made) {
      return new Room(path, folder, Optional.of(made), holds);
    }
  }

  /**
   * A file or folder in the step's own folder.
   *
   * @param name its name there
   * @param isFolder whether it is a folder
   * @param inner the names of the files in that folder
   */
  record Held(String name, boolean isFolder, List<String> inner) {
    Held {
      inner = List.copyOf(inner);
    }

    static Held file(String name) {
      return new Held(name, false, List.of());
    }
  }

  /** Begins one: it has a number that no other has, and is held. */
  @SuppressWarnings("try") // holding the state folder is all that is done with the guard
  static StepRecord begin(OpenFolder state) throws IOException {
    try (FolderLock guard = FolderLock.holdState(state);
        OpenFolder open = StateFolder.openIn(state, OPEN)) {
      long number = next(state, open);
      OpenFolder own = open.make(open.name(name(number)));
      boolean held = false;
      try {
        ProcessLock lock =
            ProcessLock.tryTake(own, LOCK)
                .orElseThrow(() -> new IOException("a new record is held by somebody else"));
        held = true;
        return new StepRecord(state, own, number, lock);
      } finally {
        if (!held) {
          own.close();
        }
      }
    }
  }

  /** The records that nobody holds any more, to be held by the caller. */
  @SuppressWarnings("try") // holding the state folder is all that is done with the guard
  static List<StepRecord> abandoned(OpenFolder state) throws IOException {
    List<StepRecord> found = new ArrayList<>();
    try (OpenFolder open = state.enter(state.name(OPEN))) {
      List<Path> names = open.names();
      if (names.isEmpty()) {
        return List.of();
      }
      try (FolderLock guard = FolderLock.holdState(state)) {
        for (Path name : names.stream().sorted().toList()) {
          abandoned(state, open, name).ifPresent(found::add);
        }
      }
    } catch (NoSuchFileException e) {
      return List.of(); // none was ever begun
    }
    return found;
  }

  private static Optional<StepRecord> abandoned(OpenFolder state, OpenFolder open, Path name)
      throws IOException {
    if (!name.toString().matches("\\d{12}")) {
      return Optional.empty();
    }
    OpenFolder own;
    try {
      own = open.enter(name);
    } catch (NoSuchFileException e) {
      return Optional.empty(); // it has ended just now
    }
    Optional<ProcessLock> lock;
    try {
      lock = ProcessLock.tryTake(own, LOCK);
    } catch (NoSuchFileException e) {
      lock = Optional.empty(); // it has ended just now
    }
    if (lock.isEmpty()) {
      own.close();
      return Optional.empty();
    }
    return Optional.of(new StepRecord(state, own, Long.parseLong(name.toString()), lock.get()));
  }

  /** What the open records of this account say, whether they are held or not; for reading. */
  static List<Stage> stages(OpenFolder state) throws IOException {
    List<Stage> stages = new ArrayList<>();
    try (OpenFolder open = state.enter(state.name(OPEN))) {
      for (Path name : open.names()) {
        try (OpenFolder own = open.enter(name)) {
          read(own).ifPresent(stages::add);
        } catch (NoSuchFileException e) {
          // it has ended just now
        }
      }
    } catch (NoSuchFileException e) {
      return List.of();
    }
    return stages;
  }

  private static String name(long number) {
    return String.format(java.util.Locale.ROOT, "%012d", number);
  }

  /**
   * The next number. What the file of the last one says is sure while the machine runs; after a
   * loss of power it may be an older one, and many numbers are left out.
   */
  private static long next(OpenFolder state, OpenFolder open) throws IOException {
    long last = 0;
    for (Path name : open.names()) {
      if (name.toString().matches("\\d{12}")) {
        last = Math.max(last, Long.parseLong(name.toString()));
      }
    }
    Path counter = state.name(COUNTER);
    String boot = Stage.thisBoot();
    boolean sure = false;
    if (state.has(counter)) {
      try (FileChannel channel = state.read(counter)) {
        String text =
            new String(Channels.newInputStream(channel).readNBytes(100), StandardCharsets.UTF_8);
        boolean whole = text.matches("\\d{12} [^\n]*\n");
        last = Math.max(last, whole ? Long.parseLong(text.substring(0, 12)) : 0);
        sure = whole && text.substring(13).strip().equals(boot);
      }
    }
    long next = sure ? last + 1 : last + LEFT_OUT;
    try (FileChannel channel = state.createOrOpen(counter)) {
      ByteBuffer text =
          ByteBuffer.wrap((name(next) + " " + boot + "\n").getBytes(StandardCharsets.UTF_8));
      channel.truncate(text.remaining());
      while (text.hasRemaining()) {
        channel.write(text, text.position());
      }
      if (!sure) {
        channel.force(true);
      }
    }
    return next;
  }

  long number() {
    return number;
  }

  /** The folder of the record itself, for its journal and the copies of what is replaced. */
  OpenFolder folder() {
    return own;
  }

  OpenFolder state() {
    return state;
  }

  /** Where the step stands. */
  StepState step() throws IOException {
    return standing(own);
  }

  /**
   * Puts on record what the step makes. It is on the disk when the journal is; until then a loss of
   * power leaves at most a folder of the step that is told and stays.
   */
  void write(Stage stage) throws IOException {
    step().mustLeadTo(StepState.PREPARED);
    StringBuilder text = new StringBuilder(FIRST_LINE).append('\n');
    text.append("stage ").append(stage.name()).append(' ').append(stage.key()).append(' ');
    text.append(stage.boot()).append('\n');
    for (Room room : stage.rooms()) {
      text.append("folder ")
          .append(room.folder().toWord())
          .append(' ')
          .append(room.stage().map(FileId::toWord).orElse("-"))
          .append(' ')
          .append(room.path().toUri())
          .append('\n');
      for (Held held : room.holds()) {
        text.append(held.isFolder() ? "inside" : "file");
        text.append(' ').append(word(held.name()));
        held.inner().forEach(inner -> text.append(' ').append(word(inner)));
        text.append('\n');
      }
    }
    text.append("end\n");
    Path unnamed = own.name(PLAN + ".new");
    own.deleteIfThere(unnamed);
    try (FileChannel channel = own.create(unnamed)) {
      ByteBuffer buffer = ByteBuffer.wrap(text.toString().getBytes(StandardCharsets.UTF_8));
      while (buffer.hasRemaining()) {
        channel.write(buffer);
      }
      if (stage.rooms().stream().allMatch(room -> room.stage().isPresent())) {
        channel.force(true);
      }
    }
    own.rename(unnamed, own, own.name(PLAN));
  }

  /** From here on the step counts: on the disk when this returns. */
  void commit(Journal journal) throws IOException {
    step().mustLeadTo(StepState.COMMITTED);
    journal.write(own);
    try (OpenFolder open = state.enter(state.name(OPEN))) {
      open.flush();
    }
  }

  /** From here on the step is taken back. */
  void takeBack() throws IOException {
    step().mustLeadTo(StepState.TURNED_BACK);
    own.rename(own.name(Journal.NAME), own, own.name(Journal.BACK));
    own.flush();
  }

  /** What the step has made; nothing where it has made nothing yet. */
  Optional<Stage> stage() throws IOException {
    return read(own);
  }

  private static StepState standing(OpenFolder own) throws IOException {
    if (own.has(own.name(Journal.BACK))) {
      return StepState.TURNED_BACK;
    }
    if (own.has(own.name(Journal.NAME))) {
      return StepState.COMMITTED;
    }
    return own.has(own.name(PLAN)) ? StepState.PREPARED : StepState.NUMBERED;
  }

  private static Optional<Stage> read(OpenFolder own) throws IOException {
    if (!own.has(own.name(PLAN))) {
      return Optional.empty();
    }
    String text;
    try (FileChannel channel = own.read(own.name(PLAN))) {
      text =
          new String(
              Channels.newInputStream(channel).readNBytes(Limits.JOURNAL_BYTES),
              StandardCharsets.UTF_8);
    }
    if (!text.startsWith(FIRST_LINE + "\n") || !text.endsWith("\nend\n")) {
      throw new IOException("a record that can't be read: " + own.path());
    }
    try {
      return Optional.of(parse(text.split("\n", -1)));
    } catch (IllegalArgumentException | IndexOutOfBoundsException | FileSystemNotFoundException e) {
      throw new IOException("a record that can't be read: " + own.path(), e);
    }
  }

  private static Stage parse(String[] lines) {
    @Nullable Stage head = null;
    List<Room> rooms = new ArrayList<>();
    List<Held> holds = new ArrayList<>();
    @Nullable Room room = null;
    for (String line : lines) {
      String[] words = line.split(" ", -1);
      switch (words[0]) {
        case "stage" -> head = new Stage(words[1], words[2], words[3], List.of());
        case "folder" -> {
          if (room != null) {
            rooms.add(new Room(room.path(), room.folder(), room.stage(), holds));
          }
          holds = new ArrayList<>();
          room =
              new Room(
                  Path.of(URI.create(words[3])),
                  FileId.parse(words[1]),
                  words[2].equals("-") ? Optional.empty() : Optional.of(FileId.parse(words[2])),
                  List.of());
        }
        case "file" -> holds.add(Held.file(unword(words[1])));
        case "inside" -> {
          List<String> inner = new ArrayList<>();
          for (int i = 2; i < words.length; i++) {
            inner.add(unword(words[i]));
          }
          holds.add(new Held(unword(words[1]), true, inner));
        }
        default -> {}
      }
    }
    if (room != null) {
      rooms.add(new Room(room.path(), room.folder(), room.stage(), holds));
    }
    if (head == null) {
      throw new IllegalArgumentException("no stage");
    }
    return new Stage(head.name(), head.key(), head.boot(), rooms);
  }

  private static String word(String name) {
    return Hex.of(name.getBytes(StandardCharsets.UTF_8));
  }

  private static String unword(String word) {
    return new String(HexFormat.of().parseHex(word), StandardCharsets.UTF_8);
  }

  /** All is where it belongs: from here on there is nothing to go on with, only to tidy up. */
  void settle() throws IOException {
    for (String name : List.of(Journal.NAME, Journal.BACK)) {
      own.deleteIfThere(own.name(name));
    }
  }

  /** The step has ended, and nothing of it is anywhere else: the record goes. */
  @SuppressWarnings("try") // holding the state folder is all that is done with the guard
  void finish() throws IOException {
    settle();
    try (FolderLock guard = FolderLock.holdState(state);
        OpenFolder open = state.enter(state.name(OPEN))) {
      for (Path name : own.names()) {
        if (!name.toString().equals(LOCK)) {
          own.deleteIfThere(name);
        }
      }
      lock.release(own, LOCK);
      own.close();
      open.deleteFolder(open.name(name(number)));
    } catch (NoSuchFileException | DirectoryNotEmptyException e) {
      LOG.debug("the record {} is removed by another process", number, e);
    }
  }

  /** Lets go of it, whatever it says by then. The state folder is the caller's. */
  @Override
  public void close() throws IOException {
    try {
      lock.close();
    } finally {
      own.close();
    }
  }
}
