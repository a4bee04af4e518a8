// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.finding.Finding;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Input;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.Surroundings;
import io.symbolon.task.TaskRun;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.SealPassword;
import java.util.List;
import java.util.Optional;

/**
 * Where a password comes from, as an option says it: {@code ask}, {@code env=NAME}, {@code
 * file=PATH}, {@code empty}, and for sealing {@code new=PATH}.
 */
public final class PasswordOption {
  private PasswordOption() {}

  /** A password that is known somewhere. */
  public static PasswordSource known(String option, String text) {
    int equals = text.indexOf('=');
    String kind = equals < 0 ? text : text.substring(0, equals);
    String name = equals < 0 ? "" : text.substring(equals + 1);
    boolean named = (kind.equals("env") || kind.equals("file")) && !name.isEmpty();
    boolean bare = (kind.equals("ask") || kind.equals("empty")) && equals < 0;
    if (named || bare) {
      return new PasswordSource(
          PasswordSource.Kind.ofWord(kind),
          kind.equals("file") ? GivenOptions.path(name).toString() : name);
    }
    // What was typed is not repeated: it may be the password itself.
    throw Usage.wrong(
        "The value of " + option + " is not a source of passwords.",
        "Say ask, env=NAME, file=PATH"
            + (option.startsWith("--seal") ? ", empty or new=PATH" : " or empty")
            + "; a password itself is never an option.");
  }

  /** What is to be said of a password for a result while it is being chosen. */
  public static List<Finding> remarks(Surroundings around, GivenOptions given, SealSource source) {
    ResultOptions options =
        new ResultOptions(
            given.existing(),
            Optional.empty(),
            KeyForm.PKCS8,
            false,
            Optional.of(source),
            Optional.empty(),
            ResultChoice.newPassword(given),
            Optional.empty());
    try (TaskRun trial = TaskRun.in(around)) {
      return SealPassword.of(trial, options.seal(), Input.SEALED_WITH, options).remarks("");
    }
  }

  /** The same for a result, which can get a new one. */
  public static SealSource seal(String option, String text) {
    if (text.startsWith("new=") && text.length() > 4) {
      GivenOptions.path(text.substring(4));
      return new NewPasswordFile(text.substring(4));
    }
    return known(option, text);
  }
}
