package io.symbolon.cli;

/** The entry point of the program. */
public final class Main {
  private Main() {}

  /** Runs one command and ends the process with its exit code. */
  public static void main(String[] arguments) {
    System.exit(new Cli(Session.ofProcess()).run(arguments));
  }
}
