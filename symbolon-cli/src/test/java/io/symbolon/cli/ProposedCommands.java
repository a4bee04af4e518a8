// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.cli.authority.AuthorityAction;
import io.symbolon.cli.frame.CommandAction;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.cli.ParseException;

/**
 * Checks that every command which a document proposes has a meaning: a POSIX shell takes it apart
 * into words, and the command line takes them. What they do is tried in {@link PastedCommandsTest}.
 */
final class ProposedCommands {
  private ProposedCommands() {}

  static void check(JsonNode document) {
    document.findValues("commands").forEach(all -> all.forEach(one -> check(one.asText())));
    document
        .findValues("command")
        .forEach(
            one -> {
              if (one.isTextual() && one.asText().startsWith("symbolon ")) {
                check(one.asText());
              }
            });
  }

  private static void check(String line) {
    List<String> words = words(line);
    if (words.get(0).equals("chmod")) {
      assertEquals(3, words.size(), line);
      return;
    }
    assertEquals("symbolon", words.get(0), line);
    CommandAction action = Command.find(words.get(1)).orElseThrow();
    int first = 2;
    if (action == Command.AUTHORITY) {
      action = AuthorityAction.find(words.get(2)).orElseThrow();
      first = 3;
    }
    try {
      var parsed = action.spec().parse(words.subList(first, words.size()).toArray(String[]::new));
      assertEquals("", action.spec().wrongArguments(parsed.getArgList().size()), line);
      assertFalse(parsed.getArgList().stream().anyMatch(word -> word.startsWith("--")), line);
    } catch (ParseException e) {
      throw new AssertionError(line, e);
    }
  }

  /** Takes a line apart as a POSIX shell does; what a shell would change or run is an error. */
  static List<String> words(String line) {
    List<String> words = new ArrayList<>();
    StringBuilder word = new StringBuilder();
    boolean quoted = false;
    boolean started = false;
    for (int i = 0; i < line.length(); i++) {
      char c = line.charAt(i);
      if (quoted) {
        quoted = c != '\'';
        if (quoted) {
          word.append(c);
        }
      } else if (c == '\'') {
        quoted = true;
        started = true;
      } else if (c == '\\') {
        word.append(line.charAt(++i));
        started = true;
      } else if (c == ' ') {
        if (started) {
          words.add(word.toString());
        }
        word.setLength(0);
        started = false;
      } else {
        assertTrue("$`\"&|;<>()*?[]{}!#\n\t".indexOf(c) < 0, "a shell would see to it: " + line);
        word.append(c);
        started = true;
      }
    }
    assertFalse(quoted, line);
    if (started) {
      words.add(word.toString());
    }
    return words;
  }
}
