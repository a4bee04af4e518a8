// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Exposure;
import io.symbolon.file.NotAFileException;
import io.symbolon.file.SafeRead;
import io.symbolon.finding.Finding;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Input;
import io.symbolon.seal.PasswordText;
import io.symbolon.seal.Secret;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Reads passwords from where they are. What stands behind the kind of a source is never repeated:
 * it may be the password itself.
 */
final class PasswordReader {
  private final Surroundings around;
  private final Input input;

  /** For what is told of an input. */
  PasswordReader(Surroundings around, Input input) {
    this.around = around;
    this.input = input;
  }

  /** All passwords of a source: those of a folder are the first lines of the files in it. */
  List<Secret> all(PasswordSource source) {
    return source.kind() == PasswordSource.Kind.FILE && Files.isDirectory(Path.of(source.name()))
        ? fromFolder(Path.of(source.name()))
        : List.of(one(source, "Password"));
  }

  /** The one password of a source; a person is asked this question. */
  Secret one(PasswordSource source, String question) {
    return switch (source.kind()) {
      case ASK -> asked(question);
      case ENV -> fromEnvironment(source.name());
      case FILE -> fromFile(Path.of(source.name()));
      case EMPTY -> Secret.empty();
    };
  }

  /** What is to be said of a file whose password others can read or replace. */
  static Optional<Finding> exposure(PasswordSource source) {
    if (source.kind() != PasswordSource.Kind.FILE) {
      return Optional.empty();
    }
    Path path = Path.of(source.name());
    return (Files.isDirectory(path)
            ? new PasswordReader(Surroundings.ofProgram(), Input.PASSWORD).filesIn(path)
            : List.of(path))
        .stream().flatMap(file -> Exposure.of(file).stream()).findFirst().map(Exposure::ofPassword);
  }

  Secret asked(String question) {
    char[] typed =
        around
            .askPassword(question)
            .orElseThrow(
                () ->
                    new WrongJob(
                        "A password has to be asked for ("
                            + input.mention("ask")
                            + "), but there is no terminal to ask at.",
                        "Give it with "
                            + input.mention("file=PATH")
                            + " or "
                            + input.mention("env=NAME")
                            + "."));
    Secret secret = Secret.of(typed, "ask");
    Arrays.fill(typed, '\0');
    return secret;
  }

  private Secret fromEnvironment(String name) {
    String value = around.environment().get(name);
    if (value == null) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The password can't be read.",
          "There is no environment variable of the name that is given.",
          "Set and export it, or use another source. The name is not repeated here, since it may be"
              + " the password itself.");
    }
    return Secret.of(value.toCharArray(), "env=" + name);
  }

  private SymbolonException unreadable(String seen, String remedy, IOException cause) {
    return new SymbolonException(Reason.UNREADABLE, statement(), seen, remedy, cause);
  }

  private String statement() {
    return "The password of " + input.mention("file=") + " can't be read.";
  }

  private Secret fromFile(Path path) {
    byte[] bytes;
    try {
      int most = 4 * Limits.PASSWORD_CHARS;
      bytes = SafeRead.named(path, most, most).octets();
    } catch (NotAFileException e) {
      throw unreadable("It is " + e.what() + ".", "Name an ordinary file.", e);
    } catch (IOException e) {
      throw Files.exists(path)
          ? unreadable(
              "The system does not let you read the file.", "Check the rights of the file.", e)
          : unreadable(
              "There is no file of the name that is given.",
              "Check the name. It is not repeated here, since it may be the password itself.",
              e);
    }
    try {
      return PasswordText.read(bytes, "file=" + path);
    } finally {
      Arrays.fill(bytes, (byte) 0);
    }
  }

  private List<Path> filesIn(Path folder) {
    try (Stream<Path> all = Files.list(folder)) {
      return all.filter(file -> Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS))
          .filter(file -> !String.valueOf(file.getFileName()).startsWith("."))
          .sorted()
          .limit(Limits.PASSWORD_FILES + 1L)
          .toList();
    } catch (IOException e) {
      throw unreadable(
          "The system does not let you list the folder.", "Check the rights of the folder.", e);
    }
  }

  /** Every file of a folder, such as that of passwords that were made for many clients. */
  private List<Secret> fromFolder(Path folder) {
    List<Path> files = filesIn(folder);
    if (files.isEmpty() || files.size() > Limits.PASSWORD_FILES) {
      throw new SymbolonException(
          files.isEmpty() ? Reason.NOT_FOUND : Reason.LIMIT_PASSED,
          "The passwords of " + input.mention("file=") + " can't be read.",
          files.isEmpty()
              ? "There is no file in the folder that is given."
              : "There are more than " + Limits.PASSWORD_FILES + " files in the folder.",
          "Name the files with the passwords, or a folder with them alone.");
    }
    return files.stream().map(this::fromFile).toList();
  }
}
