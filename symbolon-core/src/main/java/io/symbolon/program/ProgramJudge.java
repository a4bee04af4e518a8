// SPDX-License-Identifier: Apache-2.0
package io.symbolon.program;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.PathControl;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * As whom a program may be started.
 *
 * <p>Whoever controls the program, a folder or link on the way to it, its interpreter, or what it
 * reads to know what to do, decides what it does. So all of these belong to root or to the account
 * that it runs as, and nobody else can write there. Where root starts it and one account controls a
 * part, it runs as that account; where several do, or a group or everybody, it is not started.
 *
 * <p>What was judged is what is started: by a path with no link among its folders, of which nobody
 * else can exchange a part. Its last name stays as it was given, since some programs do by their
 * name what they do; a link of that name was judged like all others.
 */
final class ProgramJudge {
  private static final String ROOT = "root";
  private static final int FIRST_LINE = 256; // octets that the system reads of it

  private final String us;
  private final List<Path> folders;

  /**
   * A judge.
   *
   * @param us the account that this process runs as
   * @param folders where programs are looked for that have no folder in their name
   */
  ProgramJudge(String us, List<Path> folders) {
    this.us = us;
    this.folders = folders;
  }

  /**
   * What was found.
   *
   * @param path the program, with no link among its folders
   * @param account the account to run it as; nothing where it runs as this process does
   * @param why the reason as a sentence, where it runs as another account than was wanted
   */
  record Verdict(Path path, Optional<String> account, Optional<String> why) {}

  /**
   * Judges a program.
   *
   * @param word how it is named: a path, or a name that is looked for
   * @param wanted the account that it is to run as; nothing for this process's own
   * @param reads the files and folders that tell it what to do
   * @throws SymbolonException if it is not started, with the path and the owner that are the reason
   * @throws NoSuchFileException if there is no such program
   */
  Verdict judge(String word, Optional<String> wanted, List<Path> reads) throws IOException {
    Path named = find(word);
    Path program = started(named);
    Set<Path> parts = new LinkedHashSet<>();
    parts.add(named);
    interpreters(named.toRealPath(), parts, 0);
    parts.addAll(reads);
    String account = wanted.orElse(us);
    Optional<Blamed> blamed = blamed(parts, account);
    if (blamed.isPresent() && wanted.isEmpty() && us.equals(ROOT)) {
      Optional<String> owner = blamed.get().stranger().account();
      if (owner.isPresent()) {
        Optional<Blamed> others = blamed(parts, owner.get());
        if (others.isEmpty()) {
          return new Verdict(program, owner, Optional.of(blamed.get().stranger().sentence()));
        }
        blamed = others; // not even that account alone controls it
      }
    }
    if (blamed.isPresent()) {
      throw refused(program, account, blamed.get());
    }
    return new Verdict(
        program, account.equals(us) ? Optional.empty() : Optional.of(account), Optional.empty());
  }

  private static Path started(Path named) throws IOException {
    Path folder = named.getParent();
    Path name = named.getFileName();
    return folder == null || name == null ? named.toRealPath() : folder.toRealPath().resolve(name);
  }

  private record Blamed(Path part, PathControl.Stranger stranger) {}

  /** Who else than root and an account controls a part of it. */
  private static Optional<Blamed> blamed(Set<Path> parts, String account) throws IOException {
    for (Path part : parts) {
      if (Files.exists(part)) {
        Optional<PathControl.Stranger> stranger = PathControl.of(part, account).stranger();
        if (stranger.isPresent()) {
          return Optional.of(new Blamed(part, stranger.get()));
        }
      }
    }
    return Optional.empty();
  }

  /** The program that a word means; a name without a folder is looked for in the system's own. */
  Path find(String word) throws NoSuchFileException {
    if (word.indexOf('/') >= 0 || word.indexOf('\\') >= 0) {
      Path path = Path.of(word).toAbsolutePath();
      if (!Files.isRegularFile(path)) {
        throw new NoSuchFileException(word);
      }
      return path;
    }
    for (Path folder : folders) {
      Path path = folder.resolve(word);
      if (Files.isRegularFile(path) && Files.isExecutable(path)) {
        return path;
      }
    }
    throw new NoSuchFileException(word);
  }

  /** The programs that the first line of a script names. */
  private void interpreters(Path script, Set<Path> parts, int depth) throws IOException {
    byte[] head;
    try (InputStream in = Files.newInputStream(script)) {
      head = in.readNBytes(FIRST_LINE);
    }
    if (head.length < 2 || head[0] != '#' || head[1] != '!' || depth >= Limits.LINKS) {
      return;
    }
    String text = new String(head, StandardCharsets.UTF_8);
    int end = text.indexOf('\n');
    List<String> words =
        List.of(text.substring(2, end < 0 ? text.length() : end).trim().split("[ \t]+", -1));
    if (words.get(0).isEmpty()) {
      return;
    }
    Path interpreter = Path.of(words.get(0)).toAbsolutePath();
    parts.add(interpreter);
    boolean looks = interpreter.endsWith("env") && words.size() > 1;
    if (looks) {
      String name = words.get(words.get(1).equals("-S") && words.size() > 2 ? 2 : 1);
      try {
        Path found = find(name);
        parts.add(found);
        interpreters(found.toRealPath(), parts, depth + 1);
      } catch (NoSuchFileException e) {
        // that it can't be started is told when it is started
      }
    } else if (Files.isRegularFile(interpreter)) {
      interpreters(interpreter.toRealPath(), parts, depth + 1);
    }
  }

  private static SymbolonException refused(Path program, String account, Blamed blamed) {
    boolean own = blamed.part().equals(program);
    return new SymbolonException(
        Reason.NOT_TRUSTED,
        "The program "
            + VisibleText.of(program.toString())
            + " was not started as "
            + VisibleText.of(account)
            + ".",
        blamed.stranger().sentence()
            + (own
                ? " Somebody else could change what it does."
                : " It has to do with "
                    + VisibleText.of(blamed.part().toString())
                    + ", which decides what the program does."),
        "Let it and every folder on its way belong to root or to "
            + VisibleText.of(account)
            + ", without rights to write for others; or run the command as the account that owns it.");
  }
}
