// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.ServerCommand;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A server's own check of its settings.
 *
 * @param command what checks
 * @param failure what it prints when something is wrong although it ends well; nothing where its
 *     end tells
 * @param trial a copy of the server to be started as well, where the check looks at too little
 */
public record OwnCheck(
    ServerCommand command, Optional<Pattern> failure, Optional<TrialStart> trial) {
  /**
   * A check that needs no copy.
   *
   * @param command what checks
   * @param failure what it prints when something is wrong
   */
  public OwnCheck(ServerCommand command, Optional<Pattern> failure) {
    this(command, failure, Optional.empty());
  }

  /**
   * {@return whether the settings passed}
   *
   * @param result what came of the command
   */
  public boolean isPassed(CommandResult result) {
    return command.isGood(result)
        && failure.filter(one -> one.matcher(result.output()).find()).isEmpty();
  }
}
