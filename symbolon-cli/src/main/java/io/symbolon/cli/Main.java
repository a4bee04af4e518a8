// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.session.Session;

/** The entry point of the program. */
public final class Main {
  private Main() {}

  /** Runs one command and ends the process with its exit code. */
  public static void main(String[] arguments) {
    Session session = Session.ofProcess();
    if (arguments.length > 1 && "create".equals(session.environment().get("SYMBOLON_ARCHIVE"))) {
      WarmUp.run(session, arguments[1]);
    }
    System.exit(new Cli(session).run(arguments));
  }
}
