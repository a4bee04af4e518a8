// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Dialogue;
import io.symbolon.cli.frame.GivenOptions;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.commons.cli.ParseException;

/**
 * What a person has answered of an order, in the order of the questions: each becomes an option. An
 * answer that was taken back stands in brackets when its question comes again.
 */
final class OrderAnswers implements Dialogue.Answers {
  static final String HOST = "host ";

  private final GivenOptions given;
  private final CommandSpec spec;
  private final Map<String, String> answers = new LinkedHashMap<>();
  private final Map<String, String> remembered = new LinkedHashMap<>();

  OrderAnswers(GivenOptions given, CommandSpec spec) {
    this.given = given;
    this.spec = spec;
  }

  boolean has(String id) {
    return answers.containsKey(id);
  }

  /** Whether an option is neither typed nor answered. */
  boolean isOpen(String option) {
    return !given.has(option) && !has(option);
  }

  /** What was typed or answered. */
  String of(String option) {
    return given.value(option).orElse(answers.getOrDefault(option, ""));
  }

  int hostsAsked() {
    return (int) answers.keySet().stream().filter(id -> id.startsWith(HOST)).count();
  }

  List<String> hosts() {
    return answers.entrySet().stream()
        .filter(one -> one.getKey().startsWith(HOST) && !one.getValue().isEmpty())
        .map(Map.Entry::getValue)
        .toList();
  }

  @Override
  public Optional<String> remembered(String id) {
    return Optional.ofNullable(remembered.get(id));
  }

  @Override
  public void add(String id, String text) {
    answers.put(id, text);
    remembered.put(id, text);
  }

  @Override
  public boolean takeBack() {
    List<String> ids = List.copyOf(answers.keySet());
    if (ids.isEmpty()) {
      return false;
    }
    answers.remove(ids.get(ids.size() - 1));
    return true;
  }

  /** The command line that says the same, behind the name of the command. */
  List<String> arguments() {
    List<String> arguments = new ArrayList<>(given.typed());
    answers.forEach(
        (id, text) -> {
          if (!text.isEmpty()) {
            arguments.add("--" + (id.startsWith(HOST) ? "host" : id));
            arguments.add(text);
          }
        });
    return arguments;
  }

  GivenOptions options() {
    try {
      return new GivenOptions(spec.parse(arguments().toArray(String[]::new)));
    } catch (ParseException e) {
      throw new IllegalStateException("the answers make no command line", e);
    }
  }

  /** The same with one more answer, to be judged. */
  OrderAnswers with(String id, String text) {
    OrderAnswers more = new OrderAnswers(given, spec);
    more.answers.putAll(answers);
    more.answers.put(id, text);
    return more;
  }
}
