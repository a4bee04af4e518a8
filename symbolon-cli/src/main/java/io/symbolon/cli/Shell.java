package io.symbolon.cli;

import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** The shell that a command is typed into, and how it wants arguments quoted. */
enum Shell {
  /** The shells of POSIX; characters that can't be seen take bash, zsh or ksh. */
  POSIX {
    @Override
    String quote(String argument) {
      return ShellQuote.quote(argument);
    }
  },
  /** The command prompt of Windows. */
  COMMAND_PROMPT {
    @Override
    String quote(String argument) {
      return isPlain(argument)
          ? argument
          : '"' + argument.replace("\"", "\\\"").replace("%", "\"^%\"") + '"';
    }
  },
  /** Its successor. */
  POWERSHELL {
    @Override
    String quote(String argument) {
      return isPlain(argument) ? argument : "'" + argument.replace("'", "''") + "'";
    }
  };

  /** The argument as it is typed. */
  abstract String quote(String argument);

  private static boolean isPlain(String argument) {
    return argument.matches("[A-Za-z0-9_+=:./\\\\-]+");
  }

  /** A whole command as it is typed. */
  String line(Iterable<String> words) {
    return java.util.stream.StreamSupport.stream(words.spliterator(), false)
        .map(this::quote)
        .collect(Collectors.joining(" "));
  }

  /** The shell at hand, as the environment tells it. */
  static Shell of(Map<String, String> environment, String system) {
    if (!system.toLowerCase(Locale.ROOT).startsWith("windows")) {
      return POSIX;
    }
    // The successor puts its modules' folders into the environment of what it starts; the prompt,
    // started from it, inherits them but says so by its own PROMPT.
    return environment.containsKey("PSModulePath") && !environment.containsKey("PROMPT")
        ? POWERSHELL
        : COMMAND_PROMPT;
  }
}
