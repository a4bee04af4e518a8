// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.List;

/**
 * How a running server takes new settings.
 *
 * @param kind how much it interrupts
 * @param commands what does it, one after the other; nothing where no command is known
 * @param running whether the server runs, so that there is something to reload
 * @param says what is to be known of it, as a sentence
 */
public record Reload(Kind kind, List<ServerCommand> commands, boolean running, String says) {
  /** How much it interrupts. */
  public enum Kind {
    /** Connections stay. */
    RELOAD,
    /** The server stops and starts again. */
    RESTART,
    /** The server notices the new files by itself. */
    BY_ITSELF
  }

  /**
   * Copies the commands.
   *
   * @param kind how much it interrupts
   * @param commands the commands
   * @param running whether the server runs
   * @param says what is to be known
   */
  public Reload {
    commands = List.copyOf(commands);
  }
}
