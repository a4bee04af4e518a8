// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

/** Something the command line does: a command, or an action of one. */
public interface CommandAction {
  /** What is typed for it, such as {@code join} or {@code authority sign}. */
  String words();

  /** What it does, as a sentence without its full stop, for the help. */
  String purpose();

  /** What it takes. */
  CommandSpec spec();

  /** Makes its job of what was typed, does it, and returns the exit code. */
  int run(Invocation invocation, GivenOptions given);
}
