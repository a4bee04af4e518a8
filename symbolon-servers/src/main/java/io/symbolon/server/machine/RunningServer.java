// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.file.PathControl;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A server's process on this machine.
 *
 * @param id its number
 * @param words what it was started with, as far as the system tells
 */
public record RunningServer(long id, List<String> words) {
  private static final Path PROCESSES = Path.of("/proc");
  private static final Pattern SYSTEM_UNIT =
      Pattern.compile("[^/]*/system\\.slice/(?:[^/]+\\.slice/)*([\\w@.:-]+\\.service)");
  private static final int MOST = 64 << 10;
  private static final int CHANGES_USER = 0xC00; // 06000: set-user-id and set-group-id
  private static final String ROOT = "0";
  private static final String REMOVED = " (deleted)";

  /** Copies the words. */
  public RunningServer {
    words = List.copyOf(words);
  }

  /**
   * {@return the process whose title is of a form; nothing where the system shows no processes}
   *
   * @param title the form; its group, where it has one, is what it was started with
   * @param isMeant whether it is the one that is meant, by its words
   */
  public static Optional<RunningServer> find(Pattern title, Predicate<List<String>> isMeant) {
    if (!Files.isDirectory(PROCESSES)) {
      return Optional.empty();
    }
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(PROCESSES, "[0-9]*")) {
      for (Path process : stream) {
        Optional<RunningServer> found =
            of(process, title).filter(server -> isMeant.test(server.words()));
        if (found.isPresent()) {
          return found;
        }
      }
    } catch (IOException | java.nio.file.DirectoryIteratorException e) {
      return Optional.empty();
    }
    return Optional.empty();
  }

  /**
   * Anybody can give a process any title, also one of a program that changes its user when it is
   * started. What a title says is believed where root, this account or the system's service manager
   * has started the process: it runs as one account through and through or one of its accounts is
   * root's, it is in this file system, and its program is one that nobody else can change and that
   * does not change its user.
   */
  private static boolean isTrusted(Path process) throws IOException {
    String owner = Files.getOwner(process).getName();
    List<String> accounts = accounts(process);
    // Its program does not change its user, so with one of root's numbers it was root's from the
    // beginning.
    boolean byRoot = accounts.contains(ROOT);
    boolean known =
        byRoot
            || owner.equals("root")
            || owner.equals(System.getProperty("user.name", ""))
            || unit(process).isPresent();
    boolean one = byRoot || accounts.stream().distinct().count() == 1;
    return known && one && isHere(process) && isOwnProgram(process, owner);
  }

  /** The numbers of its real, effective, saved and file system's account. */
  private static List<String> accounts(Path process) throws IOException {
    return Files.readAllLines(process.resolve("status"), StandardCharsets.ISO_8859_1).stream()
        .filter(line -> line.startsWith("Uid:"))
        .findFirst()
        .map(line -> Arrays.asList(line.substring(4).strip().split("\\s+", -1)))
        .orElse(List.of());
  }

  /** Whether it sees the same files: its paths mean others in a container. */
  private static boolean isHere(Path process) {
    try {
      return Files.readSymbolicLink(process.resolve("ns/mnt"))
          .equals(Files.readSymbolicLink(PROCESSES.resolve("self/ns/mnt")));
    } catch (IOException | UnsupportedOperationException e) {
      return false; // this account may not look at it
    }
  }

  private static boolean isOwnProgram(Path process, String owner) {
    try {
      String program = Files.readSymbolicLink(process.resolve("exe")).toString();
      String there =
          program.endsWith(REMOVED)
              ? program.substring(0, program.length() - REMOVED.length())
              : program;
      Path path = Path.of(there);
      if (!Files.exists(path)) {
        return program.endsWith(REMOVED) // replaced by a newer one, which an upgrade does
            && path.getParent() != null
            && PathControl.of(path.getParent(), owner).stranger().isEmpty();
      }
      return PathControl.of(path, owner).stranger().isEmpty()
          && Files.getAttribute(path, "unix:mode") instanceof Integer mode
          && (mode & CHANGES_USER) == 0;
    } catch (IOException | UnsupportedOperationException e) {
      return false;
    }
  }

  /**
   * {@return a property that a Java program was started with; nothing where it was not}
   *
   * @param name its name
   */
  public Optional<String> property(String name) {
    String start = "-D" + name + "=";
    return words.stream()
        .filter(word -> word.startsWith(start))
        .reduce((first, last) -> last)
        .map(word -> word.substring(start.length()));
  }

  /**
   * {@return a path that the words of a process name, where nobody but root and the account of the
   * process could have put it there} The words alone prove nothing.
   *
   * @param text the path
   */
  public Optional<Path> confirmed(String text) {
    Optional<String> account = account();
    try {
      Path path = Path.of(text);
      return path.isAbsolute()
              && account.isPresent()
              && PathControl.of(path, account.get()).stranger().isEmpty()
          ? Optional.of(path)
          : Optional.empty();
    } catch (IOException | java.nio.file.InvalidPathException e) {
      return Optional.empty();
    }
  }

  /**
   * {@return whether a process of that title runs, whoever it belongs to} What it was started with
   * is not believed.
   *
   * @param title the form of its title
   */
  public static boolean isThere(Pattern title) {
    return number(title).isPresent();
  }

  /**
   * {@return a process of that title that runs as an account} Whoever has that account has started
   * it, perhaps with another program: what it was started with is not told.
   *
   * @param title the form of its title
   * @param account the account
   */
  public static Optional<RunningServer> ofAccount(Pattern title, String account) {
    if (!Files.isDirectory(PROCESSES)) {
      return Optional.empty();
    }
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(PROCESSES, "[0-9]*")) {
      for (Path process : stream) {
        if (title.matcher(line(process).orElse("")).matches()
            && Files.getOwner(process).getName().equals(account)
            && isHere(process)) {
          return Optional.of(
              new RunningServer(Long.parseLong(String.valueOf(process.getFileName())), List.of()));
        }
      }
    } catch (IOException | java.nio.file.DirectoryIteratorException e) {
      return Optional.empty();
    }
    return Optional.empty();
  }

  /** {@return when it was started} */
  public Optional<Instant> started() {
    return ProcessHandle.of(id).flatMap(process -> process.info().startInstant());
  }

  /** {@return the account that it runs as} */
  public Optional<String> account() {
    try {
      return Optional.of(Files.getOwner(PROCESSES.resolve(String.valueOf(id))).getName());
    } catch (IOException e) {
      return Optional.empty(); // it ended just now
    }
  }

  /**
   * {@return the number of a process of that title, whoever it belongs to; for waiting until it
   * ends}
   *
   * @param title the form of its title
   */
  public static Optional<Long> number(Pattern title) {
    if (!Files.isDirectory(PROCESSES)) {
      return Optional.empty();
    }
    try (DirectoryStream<Path> stream = Files.newDirectoryStream(PROCESSES, "[0-9]*")) {
      for (Path process : stream) {
        if (title.matcher(line(process).orElse("")).matches()) {
          return Optional.of(Long.parseLong(String.valueOf(process.getFileName())));
        }
      }
    } catch (IOException | java.nio.file.DirectoryIteratorException e) {
      return Optional.empty();
    }
    return Optional.empty();
  }

  /** {@return the program that it runs, with no link on the way} */
  public Optional<Path> program() {
    try {
      return Optional.of(
          Files.readSymbolicLink(PROCESSES.resolve(String.valueOf(id)).resolve("exe")));
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty(); // it ended just now, or is another account's
    }
  }

  /** {@return the unit of the system's service manager that it belongs to} */
  public Optional<String> unit() {
    return unit(PROCESSES.resolve(String.valueOf(id)));
  }

  /** Only root puts a process into a unit of the system. */
  private static Optional<String> unit(Path process) {
    try {
      return Files.readAllLines(process.resolve("cgroup")).stream()
          .map(SYSTEM_UNIT::matcher)
          .filter(Matcher::matches)
          .map(matcher -> matcher.group(1))
          .findFirst();
    } catch (IOException e) {
      return Optional.empty(); // it ended just now
    }
  }

  private static Optional<String> line(Path process) {
    try (java.io.InputStream in = Files.newInputStream(process.resolve("cmdline"))) {
      String words = new String(in.readNBytes(MOST), StandardCharsets.UTF_8);
      return Optional.of(words.replace('\0', ' ').strip());
    } catch (IOException e) {
      return Optional.empty(); // it ended just now
    }
  }

  private static Optional<RunningServer> of(Path process, Pattern title) {
    String line;
    try (java.io.InputStream in = Files.newInputStream(process.resolve("cmdline"))) {
      if (!isTrusted(process)) {
        return Optional.empty();
      }
      line = new String(in.readNBytes(MOST), StandardCharsets.UTF_8);
    } catch (IOException e) {
      return Optional.empty(); // it ended just now
    }
    Matcher matcher = title.matcher(line.replace('\0', ' ').strip());
    if (!matcher.matches()) {
      return Optional.empty();
    }
    List<String> words =
        matcher.groupCount() > 0
            ? Arrays.asList(matcher.group(1).strip().split(" +", -1)) // a title keeps no quotes
            : Arrays.asList(line.split("\0", -1));
    return Optional.of(
        new RunningServer(Long.parseLong(String.valueOf(process.getFileName())), words));
  }
}
