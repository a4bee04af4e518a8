package io.symbolon.cli;

import io.symbolon.VisibleText;
import java.util.List;
import java.util.Locale;
import picocli.CommandLine.MissingParameterException;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.UnmatchedArgumentException;

/** Reports a wrong command line. What was typed is shown with care: it may hold a password. */
final class Usage {
  private Usage() {}

  static int report(Session session, CommandSpec spec, ParameterException e) {
    session.err().println(spec.name() + ": the command line is wrong.");
    session.err().println("Seen: " + seen(e));
    session.err().println("To do: " + remedy(spec, e));
    return ExitCode.USAGE;
  }

  private static String seen(ParameterException e) {
    if (e instanceof UnmatchedArgumentException unmatched) {
      String first = withoutValue(unmatched.getUnmatched().get(0));
      return first.startsWith("-")
          ? "There is no option " + first + "."
          : "There is one argument too many: " + first + ".";
    }
    if (e instanceof MissingParameterException missing) {
      if (missing.getMissing().isEmpty()) {
        return "Something is missing.";
      }
      var argument = missing.getMissing().get(0);
      return argument.isOption()
          ? "The option " + argument + " is missing its value, or is missing itself."
          : "No " + argument.paramLabel().replace("...", "") + " is given.";
    }
    return VisibleText.of(String.valueOf(e.getMessage())) + ".";
  }

  private static String remedy(CommandSpec spec, ParameterException e) {
    if (e instanceof UnmatchedArgumentException unmatched) {
      String first = withoutValue(unmatched.getUnmatched().get(0)).toLowerCase(Locale.ROOT);
      if (List.of("--pass", "--pwd", "--secret", "-p").stream().anyMatch(first::startsWith)) {
        return "passwords are never options: use --unlock or --seal with ask, file=PATH or env=NAME.";
      }
    }
    return "see " + spec.name() + " --help.";
  }

  private static String withoutValue(String argument) {
    int equals = argument.indexOf('=');
    return VisibleText.of(
        argument.startsWith("-") && equals > 0 ? argument.substring(0, equals) : argument);
  }
}
