// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Lifetime;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Path;
import java.util.List;

/**
 * What is to be revoked, and how long the list may be relied on.
 *
 * @param by the folder of the authority
 * @param named files, serial numbers or names of certificates; none for a new list alone
 * @param reason why
 * @param lasts how long the list may be relied on
 * @param unlock the sources of passwords to try on the authority's key
 */
record RevokeJob(
    Path by,
    List<String> named,
    RevocationReason reason,
    Lifetime lasts,
    List<SecretSource> unlock) {
  static RevokeJob of(GivenOptions given) {
    Path by = given.by();
    List<String> named = given.arguments();
    if (named.isEmpty() != given.has("fresh")) {
      throw Usage.wrong(
          named.isEmpty()
              ? "No certificate is named."
              : "--fresh revokes nothing, and certificates are named.",
          named.isEmpty()
              ? "Name those to revoke, or say --fresh to write the list anew."
              : "Leave one of them out.");
    }
    return new RevokeJob(
        by,
        named,
        given.value("reason").map(RevokeJob::reason).orElse(RevocationReason.UNSPECIFIED),
        given.lasts().orElse(AuthorityFolder.LIST_LASTS),
        given.unlock());
  }

  private static RevocationReason reason(String word) {
    return RevocationReason.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no reason '" + Output.shown(word) + "'.",
                    "See symbolon authority revoke --help."));
  }
}
