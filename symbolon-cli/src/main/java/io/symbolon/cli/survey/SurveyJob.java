// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.survey;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.RulesSource;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What is to be looked at, and what for.
 *
 * @param paths files and folders
 * @param unlock the sources of passwords to try on them
 * @param hosts hosts that a certificate should cover
 * @param rules what the receiver of requests wants
 * @param details whether everything is shown
 */
record SurveyJob(
    List<Path> paths,
    List<SecretSource> unlock,
    List<HostName> hosts,
    Optional<RulesSource> rules,
    boolean details) {
  static SurveyJob of(GivenOptions given) {
    return new SurveyJob(
        given.paths(), given.unlock(), given.hosts(), given.rules(), given.has("details"));
  }
}
