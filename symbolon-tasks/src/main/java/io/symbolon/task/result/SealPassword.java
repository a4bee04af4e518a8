// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Input;
import io.symbolon.seal.PasswordPlace;
import io.symbolon.seal.Secret;
import io.symbolon.task.GivenPassword;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The password for what is written, and the file that a new one is saved in.
 *
 * @param secret the password
 * @param saveTo where a new one shall be saved
 * @param existing what to do about a file that is there
 * @param made how a new one is made and saved
 */
public record SealPassword(
    Secret secret, Optional<Path> saveTo, Existing existing, NewPassword made) {
  private static final int LEAST = 8; // characters; fewer are guessed in no time

  /** One that is known. */
  public SealPassword(Secret secret, Existing existing) {
    this(secret, Optional.empty(), existing, NewPassword.USUAL);
  }

  /**
   * The password for a result, which is wiped with the run.
   *
   * @param given where it comes from; a person is asked where nothing is said
   * @param input what it is for
   * @param options what is done about files that are there, and how a new password is made
   */
  public static SealPassword of(
      TaskRun run, Optional<SealSource> given, Input input, ResultOptions options) {
    SealSource source = given.orElse(PasswordSource.ASKED);
    SealPassword seal = of(run, source, given.isPresent(), input, options);
    if (seal.secret().isEmpty() && !source.equals(PasswordSource.EMPTY)) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The result can't be sealed.",
          "The password of " + input.mention(kind(source)) + " is empty.",
          "Give a password with characters, or let one be made with "
              + input.mention("new=PATH")
              + ". If the empty password is meant, say "
              + input.mention("empty")
              + ".");
    }
    run.note(source);
    return seal;
  }

  private static String kind(SealSource source) {
    return source instanceof PasswordSource known ? known.kind().word() : "";
  }

  private static SealPassword of(
      TaskRun run, SealSource source, boolean said, Input input, ResultOptions options) {
    Existing existing = options.existing();
    if (source instanceof NewPasswordFile file) {
      SafeFile.checkPrivate(file.path(), existing, Optional.empty());
      NewPassword made = options.newPassword();
      Secret secret = run.keeping(made.recipe().make(file.text()));
      return new SealPassword(secret, Optional.of(file.path()), existing, made);
    }
    if (source instanceof GivenPassword given) {
      return new SealPassword(given.secret(), existing);
    }
    PasswordSource known = (PasswordSource) source;
    return new SealPassword(
        known.kind() == PasswordSource.Kind.ASK
            ? askedTwice(run, said, input)
            : run.secret(known, input, ""),
        existing);
  }

  private static Secret askedTwice(TaskRun run, boolean said, Input input) {
    if (!said && !run.around().isAttended()) {
      throw new WrongJob(
          "No password for the result is given.",
          "Add "
              + Input.SEALED_WITH.mention("new=PATH")
              + " to make a strong one, or "
              + Input.SEALED_WITH.mention("file=PATH")
              + ", env=NAME or ask.");
    }
    Secret first =
        run.asked(
            input,
            input == Input.KEY_PASSWORD
                ? "New password for the keys"
                : "New password for the result");
    // What is wiped here must not be tried on files later: only what is meant is kept.
    try (Secret second = run.asked(input, "The same once more")) {
      if (!first.isSameAs(second)) {
        first.close();
        throw new WrongJob("The two passwords differ.", "Give the command again.");
      }
    }
    return run.keeping(first);
  }

  /** The file that a new password is saved in, owner-only; the caller wipes its content. */
  public Optional<FileItem> item() {
    if (saveTo.isEmpty()) {
      return Optional.empty();
    }
    byte[] characters = secret.revealUtf8();
    byte[] line = Arrays.copyOf(characters, characters.length + (made.lineEnd() ? 1 : 0));
    if (made.lineEnd()) {
      line[characters.length] = '\n';
    }
    Arrays.fill(characters, (byte) 0);
    return Optional.of(new FileItem(saveTo.get(), line, Privacy.OWNER_ONLY, existing));
  }

  /** What is to be said of the password for a private key. */
  public List<Finding> remarks(String where) {
    List<Finding> findings = new ArrayList<>();
    weakness(where).ifPresent(findings::add);
    Set<PasswordPlace> places = PasswordPlace.misreading(secret);
    if (!places.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.PASSWORD_TAKEN_APART,
              where,
              "The password has characters that are not taken as they stand in "
                  + places.stream().map(PasswordPlace::title).collect(Collectors.joining(", "))
                  + ".",
              "Where it is written there, write them as that place wants; or let a password of"
                  + " letters and digits be made with "
                  + Input.SEALED_WITH.mention("new=PATH")
                  + "."));
    }
    return findings;
  }

  private Optional<Finding> weakness(String where) {
    if (saveTo.isPresent() && made.recipe().isWeak()) {
      return Optional.of(
          Finding.of(
              FindingKind.WEAK_PASSWORD,
              where,
              "The new password has "
                  + made.recipe().bits()
                  + " bits: whoever has the file can guess it with much work.",
              "Make it longer with " + Input.NEW_LENGTH.mention() + ", if its place takes that."));
    }
    if (secret.length() >= LEAST) {
      return Optional.empty();
    }
    return Optional.of(
        Finding.of(
            FindingKind.WEAK_PASSWORD,
            where,
            secret.isEmpty()
                ? "The private key is sealed with the empty password: it is not protected at all."
                : "The password has " + secret.length() + " characters and can be guessed.",
            "Seal it with a longer one, or let one be made with "
                + Input.SEALED_WITH.mention("new=PATH")
                + "."));
  }

  /** Where the password can be read again, such as {@code file=PATH}. */
  public String source() {
    return saveTo.map(path -> "file=" + path).orElse(secret.source());
  }

  /** Where the password is, in words. */
  public String description() {
    return saveTo
        .map(path -> "the new password in " + VisibleText.of(path.toString()))
        .orElse("the password from " + secret.source());
  }
}
