// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.finding.Level;

/** Colours for a terminal, or none. */
public record Paint(boolean on) {
  private static final String RESET = "\u001B[0m";

  private String in(String code, String text) {
    return on ? "\u001B[" + code + "m" + text + RESET : text;
  }

  public String heading(String text) {
    return in("1", text);
  }

  public String faint(String text) {
    return in("2", text);
  }

  public String good(String text) {
    return in("32", text);
  }

  public String command(String text) {
    return in("1;35", text); // reads on dark ground and on light
  }

  public String level(Level level, String text) {
    return switch (level) {
      case PROBLEM -> in("1;31", text);
      case WARNING -> in("38;5;166", text); // an orange that reads on dark ground and on light
      case NOTE -> faint(text);
    };
  }
}
