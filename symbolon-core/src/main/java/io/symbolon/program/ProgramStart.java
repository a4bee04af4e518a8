// SPDX-License-Identifier: Apache-2.0
package io.symbolon.program;

import io.symbolon.failure.SymbolonException;
import io.symbolon.file.PathControl;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * A program that is to be started. No shell reads its arguments.
 *
 * <p>It gets nothing of this process's own: a short list of variables ({@code PATH} of the system's
 * folders that nobody else can change, {@code LANG}, {@code LC_ALL}, {@code TZ}, {@code HOME} and
 * {@code USER} of its account) and those that are named here; {@code /} as its working folder, the
 * mask 022, the usual limits, a session of its own without a terminal, and no open files. Whether
 * it may be started, and as whom, is judged first ({@link ProgramJudge}).
 */
public final class ProgramStart {
  private static final String ROOT = "root";
  private static final boolean WINDOWS = Path.of("").getFileSystem().getSeparator().equals("\\");
  private static final List<String> FOLDERS =
      List.of("/usr/local/sbin", "/usr/local/bin", "/usr/sbin", "/usr/bin", "/sbin", "/bin");

  /** Sets what no option of the starting programs sets, and becomes the program. */
  private static final String BECOME =
      "umask 022; ulimit -S -c 0 2>/dev/null; ulimit -S -n 1024 2>/dev/null; exec \"$@\"";

  private final List<String> words;
  private final Optional<String> account;
  private final Map<String, String> variables;
  private final List<Path> reads;

  private ProgramStart(
      List<String> words,
      Optional<String> account,
      Map<String, String> variables,
      List<Path> reads) {
    this.words = List.copyOf(words);
    this.account = account;
    this.variables = Map.copyOf(variables);
    this.reads = List.copyOf(reads);
    if (words.isEmpty()) {
      throw new IllegalArgumentException("a start without a program");
    }
  }

  /**
   * {@return a program with its arguments, started as this process's account}
   *
   * @param words the program, by its path or by a name that the system's folders are searched for,
   *     and its arguments
   */
  public static ProgramStart of(List<String> words) {
    return new ProgramStart(words, Optional.empty(), Map.of(), List.of());
  }

  /**
   * {@return the same as another account, where root starts it}
   *
   * @param wanted the account; nothing for this process's own
   */
  public ProgramStart as(Optional<String> wanted) {
    return new ProgramStart(words, wanted, variables, reads);
  }

  /**
   * {@return the same with more variables}
   *
   * @param more the variables
   */
  public ProgramStart with(Map<String, String> more) {
    Map<String, String> all = new HashMap<>(variables);
    all.putAll(more);
    return new ProgramStart(words, account, all, reads);
  }

  /**
   * {@return the same, told what it reads to know what to do} Whoever controls that controls the
   * program.
   *
   * @param files settings files and folders
   */
  public ProgramStart reading(List<Path> files) {
    return new ProgramStart(words, account, variables, files);
  }

  /**
   * {@return what starts it, with nothing of this process's in it; its streams are still the usual
   * ones}
   *
   * @throws SymbolonException if somebody else controls a part of it
   * @throws NoSuchFileException if there is no such program
   * @throws IOException if it can't be judged
   */
  public ProcessBuilder builder() throws IOException {
    if (WINDOWS) {
      ProcessBuilder builder = new ProcessBuilder(words);
      builder.environment().keySet().removeIf(name -> !isOfWindows(name));
      builder.environment().putAll(variables);
      return builder;
    }
    String us = us();
    ProgramJudge judge = judge(us);
    ProgramJudge.Verdict verdict = verdict(judge, us);
    String runsAs = verdict.account().orElse(us);
    ProcessBuilder builder = new ProcessBuilder(started(judge, verdict));
    builder.directory(Path.of("/").toFile());
    Map<String, String> environment = builder.environment();
    environment.clear();
    environment.put("PATH", path(runsAs));
    environment.put("LANG", "C.UTF-8");
    environment.put("LC_ALL", "C.UTF-8"); // words that can be explained
    Optional.ofNullable(System.getenv("TZ"))
        .filter(zone -> zone.matches("[A-Za-z0-9_+/-]{1,64}"))
        .ifPresent(zone -> environment.put("TZ", zone));
    environment.put("USER", runsAs);
    environment.put("LOGNAME", runsAs);
    home(runsAs).ifPresent(home -> environment.put("HOME", home));
    environment.putAll(variables);
    return builder;
  }

  /**
   * {@return as whom it runs and why, as sentences, where that is another account than was wanted,
   * since that account controls a part of it}
   *
   * @throws SymbolonException if somebody else controls a part of it
   * @throws IOException if it can't be judged
   */
  public Optional<String> lowered() throws IOException {
    if (WINDOWS) {
      return Optional.empty();
    }
    String us = us();
    ProgramJudge.Verdict verdict = verdict(judge(us), us);
    return verdict
        .why()
        .map(
            why ->
                "It ran as the account "
                    + VisibleText.of(verdict.account().orElse(us))
                    + ", and not as "
                    + VisibleText.of(us)
                    + ": "
                    + why);
  }

  private static ProgramJudge judge(String us) {
    return new ProgramJudge(us, FOLDERS.stream().map(Path::of).toList());
  }

  private ProgramJudge.Verdict verdict(ProgramJudge judge, String us) throws IOException {
    return judge.judge(words.get(0), us.equals(ROOT) ? account : Optional.empty(), reads);
  }

  private List<String> started(ProgramJudge judge, ProgramJudge.Verdict verdict)
      throws IOException {
    List<String> all = new ArrayList<>();
    helper(judge, "setsid").ifPresent(session -> all.addAll(List.of(session, "--wait")));
    if (verdict.account().isPresent()) {
      String name = verdict.account().get();
      String drop =
          helper(judge, "setpriv")
              .orElseThrow(() -> new NoSuchFileException("setpriv, which gives up root's rights"));
      all.addAll(
          List.of(
              drop,
              "--reuid=" + number(name, 2),
              "--regid=" + number(name, 3),
              "--init-groups",
              "--inh-caps=-all"));
    }
    all.addAll(List.of("/bin/sh", "-c", BECOME, "sh", verdict.path().toString()));
    all.addAll(words.subList(1, words.size()));
    return all;
  }

  private static Optional<String> helper(ProgramJudge judge, String name) throws IOException {
    try {
      return Optional.of(judge.judge(name, Optional.empty(), List.of()).path().toString());
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
  }

  /** The folders that a program of this account may look for others in. */
  private static String path(String runsAs) {
    return FOLDERS.stream().filter(one -> isClosed(one, runsAs)).collect(Collectors.joining(":"));
  }

  private static boolean isClosed(String folder, String runsAs) {
    try {
      return PathControl.of(Path.of(folder), runsAs).stranger().isEmpty();
    } catch (IOException e) {
      return false;
    }
  }

  /** The account that this process runs as, as the system says it. */
  static String us() {
    Path self = Path.of("/proc/self");
    try {
      return Files.isDirectory(self)
          ? Files.getOwner(self).getName()
          : System.getProperty("user.name", "");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static String number(String account, int column) throws IOException {
    // An account of a directory service, or without a name, is looked up by the program itself.
    return entry(account).map(entry -> entry[column]).orElse(account);
  }

  private static Optional<String> home(String account) throws IOException {
    return entry(account).map(entry -> entry[5]).filter(home -> home.startsWith("/"));
  }

  private static Optional<String[]> entry(String account) throws IOException {
    Path accounts = Path.of("/etc/passwd");
    if (!Files.isRegularFile(accounts)) {
      return Optional.empty();
    }
    return Files.readAllLines(accounts, java.nio.charset.StandardCharsets.ISO_8859_1).stream()
        .map(line -> line.split(":", -1))
        .filter(entry -> entry.length > 6 && entry[0].equals(account))
        .findFirst();
  }

  private static boolean isOfWindows(String name) {
    return List.of(
            "PATH",
            "PATHEXT",
            "SYSTEMROOT",
            "SYSTEMDRIVE",
            "WINDIR",
            "COMSPEC",
            "TEMP",
            "TMP",
            "PROGRAMDATA",
            "PROGRAMFILES",
            "PROGRAMFILES(X86)",
            "NUMBER_OF_PROCESSORS")
        .contains(name.toUpperCase(java.util.Locale.ROOT));
  }
}
