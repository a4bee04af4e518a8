// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.seal.Secret;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Lines of settings files without the passwords in them. */
final class Passwords {
  private static final String WORDS =
      "(?:password|passwd|passphrase|secret|requirepass|masterauth|storepass|keypass)";
  private static final String SHOWN = "\"****\"";

  /** A value of a setting whose name ends in the word for a password. */
  private static final Pattern VALUE =
      Pattern.compile(
          "(?i)(" + WORDS + "\\s*(?:[=:]|\\s)\\s*)(?:\"[^\"]*\"|'[^']*'|[^\\s\"'<>;]+)");

  /** A line that is one setting, without quotes: its value is all of the rest. */
  private static final Pattern LINE =
      Pattern.compile("(?i)^(\\s*[\"']?[\\w.\\[\\]-]*" + WORDS + "\\s*[=:]\\s*)([^\\s\"'].*)$");

  private Passwords() {}

  /**
   * Lines in which neither passwords, by the names of their settings, nor these values are shown.
   */
  static List<String> masked(List<String> lines, List<Secret> hidden) {
    return masked(lines).stream().map(line -> without(line, hidden)).toList();
  }

  private static String without(String line, List<Secret> hidden) {
    String shown = line;
    for (Secret secret : hidden) {
      shown = secret.isEmpty() ? shown : shown.replace(new String(secret.reveal()), "****");
    }
    return shown;
  }

  static List<String> masked(List<String> lines) {
    List<String> masked = new ArrayList<>();
    boolean goesOn = false; // a backslash at the end of the line before
    int block = -1; // the indentation of the name whose text stands in the lines below it
    for (String line : lines) {
      Matcher whole = LINE.matcher(line);
      boolean inBlock = block >= 0 && (line.isBlank() || indentation(line) > block);
      if (goesOn || inBlock) {
        masked.add(line.isBlank() ? line : SHOWN);
      } else if (whole.matches()) {
        masked.add(whole.group(1) + SHOWN);
        boolean opens = whole.group(2).matches("[|>][-+\\d]*\\s*");
        block = opens ? indentation(line) : -1;
      } else {
        masked.add(VALUE.matcher(line).replaceAll("$1" + Matcher.quoteReplacement(SHOWN)));
      }
      block = inBlock || (block >= 0 && whole.matches()) ? block : -1;
      goesOn = (goesOn || whole.matches()) && endsOpen(line);
    }
    return masked;
  }

  private static int indentation(String line) {
    return line.length() - line.stripLeading().length();
  }

  private static boolean endsOpen(String line) {
    int slashes = 0;
    while (slashes < line.length() && line.charAt(line.length() - 1 - slashes) == '\\') {
      slashes++;
    }
    return slashes % 2 == 1;
  }
}
