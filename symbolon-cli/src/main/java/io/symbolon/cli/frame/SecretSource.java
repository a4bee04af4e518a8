// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.session.Session;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Exposure;
import io.symbolon.file.SafeFile;
import io.symbolon.file.SafeRead;
import io.symbolon.finding.Finding;
import io.symbolon.limit.Limits;
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
 * Where a password comes from: {@code ask}, {@code env=NAME}, {@code file=PATH}, {@code empty}, and
 * for sealing {@code new=PATH}.
 *
 * @param option the option it was given with
 * @param kind the word before the equals sign
 * @param name the word behind it
 */
public record SecretSource(String option, String kind, String name) {
  public static SecretSource parse(String option, String text) {
    int equals = text.indexOf('=');
    String kind = equals < 0 ? text : text.substring(0, equals);
    String name = equals < 0 ? "" : text.substring(equals + 1);
    boolean named =
        kind.equals("env")
            || kind.equals("file")
            || (kind.equals("new") && option.startsWith("--seal"));
    boolean bare = kind.equals("ask") || kind.equals("empty");
    if ((named && !name.isEmpty()) || (bare && equals < 0)) {
      return new SecretSource(option, kind, name);
    }
    // What was typed is not repeated: it may be the password itself.
    throw Usage.wrong(
        "The value of " + option + " is not a source of passwords.",
        "Say ask, env=NAME, file=PATH"
            + (option.startsWith("--seal") ? ", empty or new=PATH" : " or empty")
            + "; a password itself is never an option.");
  }

  /** All passwords of the source: those of a folder are the first lines of the files in it. */
  public List<Secret> resolveAll(Session session) {
    return kind.equals("file") && Files.isDirectory(GivenOptions.path(name))
        ? fromFolder(GivenOptions.path(name))
        : List.of(resolve(session));
  }

  public Secret resolve(Session session) {
    return switch (kind) {
      case "ask" -> ask(session, "Password");
      case "env" -> fromEnvironment(session);
      case "file" -> fromFile(GivenOptions.path(name));
      default -> Secret.empty();
    };
  }

  /** What is to be said of a file whose password others can read or replace. */
  public Optional<Finding> exposure() {
    if (!kind.equals("file")) {
      return Optional.empty();
    }
    Path path = GivenOptions.path(name);
    return (Files.isDirectory(path) ? filesIn(path) : List.of(path))
        .stream().flatMap(file -> Exposure.of(file).stream()).findFirst().map(Exposure::ofPassword);
  }

  /** The file that a new password is saved in, where one is to be made. */
  public Optional<Path> newFile() {
    return kind.equals("new") ? Optional.of(GivenOptions.path(name)) : Optional.empty();
  }

  /**
   * The password for a result.
   *
   * @param existing what to do about a file that is there, where a new password is saved
   * @param made how a new password is made and saved
   * @param said whether the source was given, and is not the usual one
   */
  public SealPassword resolveSeal(
      Session session, Existing existing, NewPassword made, boolean said) {
    SealPassword seal = sealing(session, existing, made, said);
    if (seal.secret().isEmpty() && !kind.equals("empty")) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The result can't be sealed.",
          "The password of " + option + " " + kind + " is empty.",
          "Give a password with characters, or let one be made with "
              + option
              + " new=PATH. If the empty password is meant, say "
              + option
              + " empty.");
    }
    return seal;
  }

  private SealPassword sealing(Session session, Existing existing, NewPassword made, boolean said) {
    if (kind.equals("new")) {
      Path path = GivenOptions.path(name);
      SafeFile.checkPrivate(path, existing, Optional.empty());
      return new SealPassword(made.recipe().make("new=" + name), Optional.of(path), existing, made);
    }
    Secret secret;
    if (kind.equals("ask")) {
      secret = askTwice(session, said);
    } else {
      secret = resolve(session);
    }
    return new SealPassword(secret, existing);
  }

  public Secret ask(Session session, String question) {
    session.flush();
    char[] typed =
        session
            .prompt()
            .ask(question)
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "A password has to be asked for ("
                            + option
                            + " ask), but there is no terminal to ask at.",
                        "Give it with " + option + " file=PATH or " + option + " env=NAME."));
    Secret secret = Secret.of(typed, "ask");
    Arrays.fill(typed, '\0');
    return secret;
  }

  private Secret askTwice(Session session, boolean said) {
    if (!said && !session.errIsTerminal()) {
      throw Usage.wrong(
          "No password for the result is given.",
          "Add --seal new=PATH to make a strong one, or --seal file=PATH, env=NAME or ask.");
    }
    Secret first =
        ask(
            session,
            option.equals("--seal-key")
                ? "New password for the keys"
                : "New password for the result");
    Secret second = ask(session, "The same once more");
    char[] one = first.reveal();
    char[] two = second.reveal();
    boolean same = Arrays.equals(one, two);
    Arrays.fill(one, '\0');
    Arrays.fill(two, '\0');
    second.close();
    if (!same) {
      first.close();
      throw Usage.wrong("The two passwords differ.", "Give the command again.");
    }
    return first;
  }

  private Secret fromEnvironment(Session session) {
    String value = session.environment().get(name);
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

  /** What was typed behind the equals sign is not repeated: it may be the password itself. */
  private SymbolonException unreadable(String seen, String remedy, IOException cause) {
    return new SymbolonException(
        Reason.UNREADABLE,
        "The password of " + option + " " + kind + "= can't be read.",
        seen,
        remedy,
        cause);
  }

  private Secret fromFile(Path path) {
    byte[] bytes;
    try {
      int most = 4 * Limits.PASSWORD_CHARS;
      bytes = SafeRead.named(path, most, most).octets();
    } catch (SafeRead.NotAFile e) {
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
          "The passwords of " + option + " " + kind + "= can't be read.",
          files.isEmpty()
              ? "There is no file in the folder that is given."
              : "There are more than " + Limits.PASSWORD_FILES + " files in the folder.",
          "Name the files with the passwords, or a folder with them alone.");
    }
    return files.stream().map(this::fromFile).toList();
  }
}
