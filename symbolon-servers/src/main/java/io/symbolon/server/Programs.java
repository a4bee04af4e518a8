// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

/** Runs programs of servers. */
public interface Programs {
  /**
   * Runs a program to its end, or to the end of its time.
   *
   * @param command the program
   * @return what came of it; never a failure
   */
  CommandResult run(ServerCommand command);
}
