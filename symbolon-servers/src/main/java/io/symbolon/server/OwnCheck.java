// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A server's own check of its settings.
 *
 * @param command what checks
 * @param failure what it prints when something is wrong although it ends well; nothing where its
 *     end tells
 */
public record OwnCheck(ServerCommand command, Optional<Pattern> failure) {
  /**
   * {@return whether the settings passed}
   *
   * @param result what came of the command
   */
  public boolean isPassed(CommandResult result) {
    return result.isGood() && failure.filter(one -> one.matcher(result.output()).find()).isEmpty();
  }
}
