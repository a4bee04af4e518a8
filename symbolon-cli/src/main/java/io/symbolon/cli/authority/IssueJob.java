// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.key.KeyKind;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Which credential is to be issued, by whom, and where it goes.
 *
 * @param by the folder of the authority; none where the certificate signs itself
 * @param draft for whom and what for
 * @param lasts how long the certificate is valid
 * @param like the file with what is issued again
 * @param kind the kind of the key, where it is said
 * @param destination where the credential goes
 * @param alias its alias in a keystore, where it is said
 * @param withRoot whether the root is put into the chain
 * @param unlock the sources of passwords to try on the authority's key
 * @param result how the credential is written
 * @param published where the authority publishes its list
 */
record IssueJob(
    Optional<Path> by,
    DraftOptions draft,
    Optional<Path> like,
    Lifetime lasts,
    Optional<KeyKind> kind,
    Destination destination,
    Optional<String> alias,
    boolean withRoot,
    List<SecretSource> unlock,
    ResultOptions result,
    Published published) {
  private static final Lifetime USUAL = Lifetime.days(397);

  /** The kind of key that is made where nothing else is said. */
  static final KeyKind USUAL_KEY = KeyKind.EC_P256;

  static IssueJob of(GivenOptions given) {
    boolean lab = given.has("self-signed");
    if (lab && (given.has("by") || given.has("list"))) {
      throw Usage.wrong(
          "--self-signed is without an authority and for one alone.",
          "Leave out --self-signed, or --by and --list.");
    }
    if (lab && given.has("list-at")) {
      throw Usage.wrong(
          "--self-signed has no authority, and --list-at is for one's list.",
          "Leave one of them out.");
    }
    Destination destination = Destination.of(given);
    if (destination.folder() || !destination.target().holdsKeys()) {
      throw Usage.wrong(
          destination.shown() + " is not a file for a private key and its chain.",
          "Name a keystore or PEM file, such as --into ingest.p12.");
    }
    return new IssueJob(
        lab ? Optional.empty() : Optional.of(given.by()),
        DraftOptions.of(given),
        given.pathOf("like"),
        lasts(given),
        given.keyKind(),
        destination,
        given.value("alias"),
        given.has("with-root"),
        given.unlock(),
        ResultOptions.of(given),
        published(given));
  }

  static Published published(GivenOptions given) {
    return new Published(
        given.value("list-at").map(Published::address), Optional.empty(), Optional.empty());
  }

  static Lifetime lasts(GivenOptions given) {
    return given.lasts().orElse(USUAL);
  }

  static KeyKind kind(GivenOptions given) {
    return given.keyKind().orElse(USUAL_KEY);
  }
}
