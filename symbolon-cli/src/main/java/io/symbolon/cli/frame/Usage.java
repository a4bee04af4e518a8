// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.CommandText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import java.util.List;
import java.util.Locale;
import org.apache.commons.cli.MissingArgumentException;
import org.apache.commons.cli.ParseException;
import org.apache.commons.cli.UnrecognizedOptionException;

/** Reports a wrong command line. What was typed is shown with care: it may hold a password. */
public final class Usage {
  private static final List<String> PASSWORD_WORDS =
      List.of("-p", "--pass", "--pwd", "--secret", "--key-pass", "--store-pass");

  private Usage() {}

  /** What is thrown for a command line that has no meaning. */
  public static SymbolonException wrong(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The command line is wrong.", seen, remedy);
  }

  public static int report(Session session, CommandAction work, ParseException e) {
    String option =
        e instanceof UnrecognizedOptionException unknown ? name(unknown.getOption()) : "";
    boolean password =
        PASSWORD_WORDS.stream().anyMatch(option.toLowerCase(Locale.ROOT)::startsWith);
    return report(
        session,
        work,
        seen(e, option),
        password
            ? "passwords are never options: use --unlock or --seal with ask, file=PATH or env=NAME."
            : "see symbolon " + work.words() + " --help.");
  }

  public static int report(Session session, CommandAction work, String seen, String remedy) {
    session.err().println("symbolon " + work.words() + ": the command line is wrong.");
    session.err().println("Seen: " + seen);
    session.err().println("To do: " + remedy);
    return ExitCode.USAGE;
  }

  /** Tells a failure with a remedy, whose commands stand below it. */
  public static void failed(
      Session session,
      CommandAction action,
      String statement,
      String seen,
      CommandText commands,
      Remedy remedy) {
    failed(session, action, statement, seen, commands.sentence(remedy));
    commands.lines(remedy).forEach(command -> session.err().println("       " + command.text()));
  }

  /** Tells a failure: what could not be done, what was seen, what to do next. */
  public static void failed(
      Session session, CommandAction action, String statement, String seen, String remedy) {
    session.flush();
    session.err().println("symbolon " + action.words() + ": " + statement);
    session.err().println("Seen: " + seen);
    session.err().println("To do: " + remedy);
  }

  private static String seen(ParseException e, String option) {
    if (e instanceof UnrecognizedOptionException) {
      return "There is no option " + option + ".";
    }
    if (e instanceof MissingArgumentException missing) {
      return "The option --" + missing.getOption().getLongOpt() + " is missing its value.";
    }
    return VisibleText.of(String.valueOf(e.getMessage())) + ".";
  }

  /** The option alone: what is glued to it may be a secret. */
  private static String name(String token) {
    int equals = token.indexOf('=');
    String alone = equals > 0 ? token.substring(0, equals) : token;
    boolean glued = !alone.startsWith("--") && alone.length() > 2;
    return VisibleText.of(glued ? alone.substring(0, 2) : alone);
  }
}
