// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.RulesSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Renewal;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.RuleCheck;
import io.symbolon.issue.Rules;
import io.symbolon.issue.WaitingKey;
import io.symbolon.key.KeyKind;
import io.symbolon.text.VisibleText;
import java.util.List;
import java.util.Optional;

/**
 * A request as the options describe it, checked and not yet written.
 *
 * @param draft what is asked for
 * @param key the key it is for
 * @param lasts how long the certificate shall be valid
 * @param rules what the receiver wants
 * @param into where the request goes
 * @param keyInto where a new key goes
 * @param alias the alias of the key in a keystore
 * @param findings what is to be said of it
 */
record RequestPlan(
    RequestDraft draft,
    RequestKey key,
    Lifetime lasts,
    Optional<Rules> rules,
    Destination into,
    Optional<Destination> keyInto,
    String alias,
    List<Finding> findings) {
  private static final Lifetime USUAL = Lifetime.days(397);

  static RequestPlan of(Invocation invocation, RequestJob job) {
    Optional<Renewal> like = DraftOptions.like(invocation, job.like(), job.alias(), job.unlock());
    RequestDraft draft = job.draft().draft(like.map(Renewal::draft));
    Optional<Rules> rules = job.rules().map(RulesSource::read);
    Lifetime lasts = job.lasts().orElse(USUAL);
    String base = DraftOptions.fileName(draft);
    Destination into = into(job.into().orElse(base + ".csr"), job.format());
    RequestKey key = RequestKey.of(invocation, job, like, rules.map(Rules::keys).orElse(List.of()));
    Optional<Destination> keyInto =
        key.isNew()
            ? Optional.of(keyInto(job.keyInto().orElse(base + ".key"), base))
            : Optional.empty();
    List<Finding> findings = RuleCheck.all(draft, key.publicKey(), rules, into.shown());
    String alias = job.alias().orElse(base);
    return new RequestPlan(draft, key, lasts, rules, into, keyInto, alias, findings);
  }

  /** The key with what is asked for. */
  WaitingKey waiting() {
    return new WaitingKey(alias, draft, key.info(), key.publicKey(), lasts);
  }

  /** The file of the request. */
  static Destination into(String text, Optional<String> format) {
    Destination into = Destination.of(text, format);
    if (into.folder()) {
      throw Usage.wrong(into.shown() + " is a folder.", "Name the file of the request.");
    }
    if (!into.target().can(Ability.REQUESTS)) {
      throw Usage.wrong(
          "A request is written as PEM or DER, not as " + into.target().title() + ".",
          "Name the keystore of the key with --key-into.");
    }
    return into;
  }

  /** The file or the keystore of the new key. */
  static Destination keyInto(String text, String base) {
    Destination keyInto = Destination.of(text, Optional.empty());
    if (keyInto.folder() || !keyInto.target().holdsKeys()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The private key can't go to " + keyInto.shown() + ".",
          keyInto.folder()
              ? "It is a folder."
              : keyInto.target().title() + " has no place for private keys.",
          "Name a file such as "
              + VisibleText.of(base)
              + ".key or "
              + VisibleText.of(base)
              + ".p12.");
    }
    return keyInto;
  }

  /** The kind of key that is made where nothing else is said. */
  static final KeyKind USUAL_KEY = KeyKind.EC_P256;
}
