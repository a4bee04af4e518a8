// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.symbolon.cli.authority.AuthorityAction;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.session.Session;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** One run of the command line as a user would make it: exit code, output, error output. */
public record Run(int code, String out, String err) {
  public static Run of(Object... arguments) {
    return with(Map.of(), List.of(), arguments);
  }

  /** With environment variables, and with what a person types when asked. */
  static Run with(Map<String, String> environment, List<String> typed, Object... arguments) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ByteArrayOutputStream err = new ByteArrayOutputStream();
    Deque<String> answers = new ArrayDeque<>(typed);
    Session session =
        new Session(
            new ByteArrayInputStream(
                environment.getOrDefault("STDIN", "").getBytes(StandardCharsets.UTF_8)),
            new PrintStream(out, false, StandardCharsets.UTF_8),
            new PrintStream(err, false, StandardCharsets.UTF_8),
            environment,
            environment.containsKey("TERMINAL"),
            false,
            new Session.Prompt() {
              @Override
              public Optional<char[]> ask(String question) {
                return Optional.ofNullable(answers.poll()).map(String::toCharArray);
              }

              @Override
              public Optional<String> line(String question) {
                out.writeBytes(question.getBytes(StandardCharsets.UTF_8));
                return Optional.ofNullable(answers.poll());
              }

              @Override
              public boolean isAttended() {
                return environment.containsKey("ATTENDED");
              }
            },
            Clock.systemUTC());
    int code =
        new Cli(session).run(Arrays.stream(arguments).map(Object::toString).toArray(String[]::new));
    Run run =
        new Run(code, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
    run.proposesWhatIsTaken();
    return run;
  }

  /** What a refusal says to add to the same command is an option of that command. */
  private void proposesWhatIsTaken() {
    int start = err.indexOf("To do: ");
    String words = err.startsWith("symbolon ") ? err.substring(9).split(":", 2)[0] : "";
    Optional<CommandAction> command =
        words.startsWith("authority ")
            ? AuthorityAction.find(words.substring(10)).map(one -> one)
            : Command.find(words).map(one -> one);
    if (start < 0 || command.isEmpty()) {
      return;
    }
    String same = err.substring(start).split("\\bsymbolon |\\n\\n", 2)[0];
    Matcher option = Pattern.compile("(?<![\\w-])--([a-z][a-z-]+)").matcher(same);
    while (option.find()) {
      assertTrue(command.get().spec().optionNames().contains(option.group(1)), () -> err);
    }
  }

  /** The same, where it ended as it was expected to. */
  Run expect(int expected) {
    assertEquals(expected, code, () -> out + err);
    return this;
  }

  JsonNode json() {
    try {
      JsonNode document = new ObjectMapper().readTree(out);
      Schemas.check(document);
      ProposedCommands.check(document);
      return document;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  List<String> findingIds() {
    return json().get("findings").findValuesAsText("id");
  }
}
