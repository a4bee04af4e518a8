// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.issue.Lifetime;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What is to be renewed.
 *
 * @param account the account whose certificates are, where one is named
 * @param files the files whose certificates a person's authority signs
 * @param within what ends within this time is due
 * @param result how new keys are protected that wait for their certificates
 * @param unlock the sources of passwords to try
 */
record RenewJob(
    Optional<OrderAccount.Wish> account,
    List<Path> files,
    Optional<Lifetime> within,
    ResultOptions result,
    List<SecretSource> unlock) {
  static RenewJob of(GivenOptions given) {
    Optional<OrderAccount.Wish> account =
        given.has("account")
            ? Optional.of(OrderAccount.Wish.of(given, Optional.empty()))
            : Optional.empty();
    List<Path> files = given.paths();
    if (account.isEmpty() && files.isEmpty()) {
      throw Usage.wrong(
          "Nothing is given to renew.",
          "Use --account FOLDER for what was ordered, and name the files whose certificates a"
              + " person's authority signs.");
    }
    if (files.isEmpty() && (given.has("seal") || given.has("unsealed"))) {
      throw Usage.wrong(
          "A password for new keys is given, but no file is named.",
          "Leave it out: what was ordered is written as it was ordered.");
    }
    return new RenewJob(
        account,
        files,
        given.value("within").map(Lifetime::parse),
        ResultOptions.of(given),
        given.unlock());
  }
}
