// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.RulesSource;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.issue.Lifetime;
import io.symbolon.key.KeyKind;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What is to be requested, with which key, and where both go.
 *
 * @param draft for whom and what for
 * @param like the file with what is asked for again
 * @param key which key it is for
 * @param lasts how long the certificate shall be valid
 * @param rules what the receiver wants
 * @param into where the request goes
 * @param format the format of the request, where it is said
 * @param keyInto where a new key goes
 * @param alias the alias of the key, or of what is meant
 * @param unlock the sources of passwords to try on files
 * @param result how the key is written
 */
record RequestJob(
    DraftOptions draft,
    Optional<Path> like,
    KeyChoice key,
    Optional<Lifetime> lasts,
    Optional<RulesSource> rules,
    Optional<String> into,
    Optional<String> format,
    Optional<String> keyInto,
    Optional<String> alias,
    List<SecretSource> unlock,
    ResultOptions result) {
  /**
   * Which key a request is made with.
   *
   * @param file the file of an existing one
   * @param same whether it is the key of what is asked for again
   * @param kind the kind of a new one
   */
  record KeyChoice(Optional<Path> file, boolean same, Optional<KeyKind> kind) {
    boolean isExisting() {
      return same || file.isPresent();
    }
  }

  static RequestJob of(GivenOptions given) {
    RequestJob job =
        new RequestJob(
            DraftOptions.of(given),
            given.pathOf("like"),
            new KeyChoice(given.pathOf("key"), given.has("same-key"), given.keyKind()),
            given.lasts(),
            given.rules(),
            given.value("into"),
            given.value("as"),
            given.value("key-into"),
            given.value("alias"),
            given.unlock(),
            ResultOptions.of(given));
    job.check();
    return job;
  }

  /** Whether nothing says what to ask for, so that a person can be asked. */
  static boolean isUnsaid(GivenOptions given) {
    return List.of("subject", "host", "email", "uri", "like", "key").stream().noneMatch(given::has);
  }

  private void check() {
    if (like.isEmpty()) {
      if (key.same()) {
        throw Usage.wrong(
            "--same-key is given without a file to take the key from.",
            "Name the file with --like.");
      }
      draft.check();
    }
    if (key.isExisting() && key.kind().isPresent()) {
      throw Usage.wrong(
          "--key-type is for a new key, and an existing one is named.", "Leave one of them out.");
    }
    if (key.isExisting() && keyInto.isPresent()) {
      throw Usage.wrong(
          "--key-into is for a new private key; the existing one stays where it is.",
          "Leave it out, or copy the key with symbolon convert.");
    }
  }
}
