// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.KeptAnswers;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.cli.ParseException;

/** What a person has answered of an order: each answer becomes an option. */
final class OrderAnswers {
  static final String HOST = "host ";

  private final GivenOptions given;
  private final CommandSpec spec;
  private final KeptAnswers kept;

  OrderAnswers(GivenOptions given, CommandSpec spec) {
    this(given, spec, new KeptAnswers());
  }

  private OrderAnswers(GivenOptions given, CommandSpec spec, KeptAnswers kept) {
    this.given = given;
    this.spec = spec;
    this.kept = kept;
  }

  KeptAnswers kept() {
    return kept;
  }

  /** Whether an option is neither typed nor answered. */
  boolean isOpen(String option) {
    return !given.has(option) && !kept.has(option);
  }

  /** What was typed or answered. */
  String of(String option) {
    return given.value(option).orElse(kept.of(option));
  }

  List<String> hosts() {
    return kept.startingWith(HOST);
  }

  /** The command line that says the same, behind the name of the command. */
  List<String> arguments() {
    List<String> arguments = new ArrayList<>(given.typed());
    kept.all()
        .forEach(
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
    return new OrderAnswers(given, spec, kept.with(id, text));
  }
}
