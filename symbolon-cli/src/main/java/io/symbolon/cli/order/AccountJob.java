// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.text.VisibleText;
import java.util.Optional;

/**
 * What is done with an account.
 *
 * @param account how it is found
 * @param contacts whether its contacts become those of the wish
 * @param newKey whether it gets another key
 * @param giveUp whether it is given up
 * @param forget the name of an order or certificate that is not tried any more, where one is said
 */
record AccountJob(
    OrderAccount.Wish account,
    boolean contacts,
    boolean newKey,
    boolean giveUp,
    Optional<String> forget) {
  static AccountJob of(GivenOptions given) {
    if (!given.argument().equals("account")) {
      throw Usage.wrong(
          "'" + VisibleText.of(given.argument()) + "' is not a word of this command.",
          "Files are named with --into; an account is shown with: symbolon order account");
    }
    for (String option : new String[] {"host", "like", "into"}) {
      if (given.has(option)) {
        throw Usage.wrong(
            "--" + option + " is for an order.", "Leave it out, or leave the word account out.");
      }
    }
    return new AccountJob(
        OrderAccount.Wish.of(given, OrderJob.directory(given)),
        given.has("contact"),
        given.has("new-key"),
        given.has("give-up"),
        given.value("forget"));
  }
}
