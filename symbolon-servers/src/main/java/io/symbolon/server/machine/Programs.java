// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.seal.Secret;

/** Runs programs of servers. */
public interface Programs {
  /**
   * Runs a program to its end, or to the end of its time.
   *
   * @param command the program
   * @return what came of it; never a failure
   */
  CommandResult run(ServerCommand command);

  /**
   * Runs a program that is told a secret on its standard input.
   *
   * @param command the program
   * @param secret what it is told, with a line end behind it
   * @return what came of it; never a failure
   */
  default CommandResult run(ServerCommand command, Secret secret) {
    return new CommandResult(
        CommandResult.End.NOT_STARTED, -1, "programs are told nothing from here");
  }
}
