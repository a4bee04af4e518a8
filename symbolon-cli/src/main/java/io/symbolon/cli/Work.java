package io.symbolon.cli;

/** Something the command line does: a command, or an action of one. */
interface Work {
  /** What is typed for it, such as {@code join} or {@code authority sign}. */
  String words();

  /** What the administrator gets, for the help. */
  String gives();

  /** What it takes. */
  CommandSpec spec();

  /** Does it and returns the exit code. */
  int run(Invocation invocation);
}
