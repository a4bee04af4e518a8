// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.cli.session.Session;
import io.symbolon.text.VisibleText;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * The shell that a command is typed into, and how it wants arguments quoted. Nothing that acts on a
 * terminal is ever shown: shells of POSIX read it from an escape inside {@code $'...'} (bash, zsh
 * and ksh); those of Windows have none, so that such a command is safe to read but can't be pasted.
 */
public enum Shell {
  /** The shells of POSIX. */
  POSIX {
    @Override
    public String quote(String argument) {
      if (argument.matches("[A-Za-z0-9_@%+=:,./-]+")) {
        return argument;
      }
      return VisibleText.of(argument).equals(argument)
          ? "'" + argument.replace("'", "'\\''") + "'"
          : escaped(argument);
    }
  },
  /** The same at a terminal that shows ASCII alone: all else is told octet by octet. */
  POSIX_ASCII {
    @Override
    public String quote(String argument) {
      return argument.chars().allMatch(c -> c < 0x80) ? POSIX.quote(argument) : octets(argument);
    }
  },
  /** The command prompt of Windows. */
  COMMAND_PROMPT {
    @Override
    public String quote(String argument) {
      return isPlain(argument)
          ? argument
          : '"' + VisibleText.of(argument).replace("\"", "\\\"").replace("%", "\"^%\"") + '"';
    }
  },
  /** Its successor. */
  POWERSHELL {
    @Override
    public String quote(String argument) {
      return isPlain(argument) ? argument : "'" + VisibleText.of(argument).replace("'", "''") + "'";
    }
  };

  /** The argument as it is typed. */
  public abstract String quote(String argument);

  private static boolean isPlain(String argument) {
    return argument.matches("[A-Za-z0-9_+=:./\\\\-]+");
  }

  private static String escaped(String argument) {
    StringBuilder out = new StringBuilder("$'");
    argument
        .codePoints()
        .forEach(
            point -> {
              String one = Character.toString(point);
              if (point == '\'' || point == '\\') {
                out.append('\\').append(one);
              } else if (VisibleText.of(one).equals(one)) {
                out.append(one);
              } else {
                out.append(String.format("\\U%08X", point));
              }
            });
    return out.append('\'').toString();
  }

  private static String octets(String argument) {
    StringBuilder out = new StringBuilder("$'");
    for (byte octet : argument.getBytes(StandardCharsets.UTF_8)) {
      boolean plain = octet >= ' ' && octet < 0x7F && octet != '\'' && octet != '\\';
      out.append(plain ? Character.toString(octet) : String.format("\\%03o", octet & 0xFF));
    }
    return out.append('\'').toString();
  }

  /** A whole command as it is typed. */
  public String line(List<String> words) {
    return words.stream().map(this::quote).collect(Collectors.joining(" "));
  }

  /** A whole command that is told lines on its input. */
  public String fed(List<String> lines, List<String> words) {
    if (lines.isEmpty()) {
      return line(words);
    }
    String input =
        switch (this) {
          case POSIX, POSIX_ASCII -> "printf '%s\\n' " + line(lines);
          case POWERSHELL -> lines.stream().map(this::quote).collect(Collectors.joining(","));
          case COMMAND_PROMPT ->
              lines.stream().map(one -> "echo " + one).collect(Collectors.joining("&", "(", ")"));
        };
    return input + " | " + line(words);
  }

  /** The shell at hand, as the environment tells it. */
  public static Shell of(Map<String, String> environment) {
    return of(environment, System.getProperty("os.name", ""));
  }

  public static Shell of(Map<String, String> environment, String system) {
    if (!system.toLowerCase(Locale.ROOT).startsWith("windows")) {
      return Session.isAscii(environment) ? POSIX_ASCII : POSIX;
    }
    // The successor puts its modules' folders into the environment of what it starts; the prompt,
    // started from it, inherits them but says so by its own PROMPT.
    return environment.containsKey("PSModulePath") && !environment.containsKey("PROMPT")
        ? POWERSHELL
        : COMMAND_PROMPT;
  }
}
