// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.Use;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Which request is to be signed, by whom, and where the certificate goes.
 *
 * @param request the file with the request
 * @param by the folder of the authority
 * @param use what the certificate is for, where the request is not followed
 * @param hosts the hosts that it covers, where the request is not followed
 * @param lasts how long it is valid
 * @param destination where the certificate and its chain go
 * @param withoutRoot whether the root is left out
 * @param unasked whether nobody is asked before it is signed
 * @param unlock the sources of passwords to try on the authority's key
 * @param result how the files are written
 * @param published where the authority publishes its list
 */
record SignJob(
    Path request,
    Path by,
    Optional<Use> use,
    List<HostName> hosts,
    Lifetime lasts,
    Destination destination,
    boolean withoutRoot,
    boolean unasked,
    List<SecretSource> unlock,
    ResultOptions result,
    Published published) {
  static SignJob of(GivenOptions given) {
    Path by = given.by();
    Destination destination = Destination.of(given);
    if (destination.folder() || destination.target().isStore()) {
      throw Usage.wrong(
          destination.shown() + " is not a file for a certificate.",
          "A reply has no private key: write PEM, DER or PKCS#7, such as --into reply.pem.");
    }
    return new SignJob(
        GivenOptions.path(given.argument()),
        by,
        given.use(),
        given.hosts(),
        given.lasts().orElse(Lifetime.days(397)),
        destination,
        given.has("without-root"),
        given.has("yes"),
        given.unlock(),
        ResultOptions.of(given),
        IssueJob.published(given));
  }
}
