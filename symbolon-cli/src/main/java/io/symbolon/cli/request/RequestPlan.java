// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.RuleCheck;
import io.symbolon.issue.Rules;
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

  static RequestPlan of(Invocation invocation) {
    Optional<RequestLike> like = RequestLike.of(invocation);
    RequestDraft draft = DraftOptions.draft(invocation, like.map(RequestLike::draft));
    Optional<Rules> rules = invocation.rules();
    Lifetime lasts = invocation.value("lasts").map(Lifetime::parse).orElse(USUAL);
    String base = DraftOptions.fileName(draft);
    Destination into = into(invocation, base);
    RequestKey key = RequestKey.of(invocation, like, rules.map(Rules::keys).orElse(List.of()));
    Optional<Destination> keyInto = Optional.empty();
    if (key.isNew()) {
      keyInto = Optional.of(keyInto(invocation, base));
    } else if (invocation.has("key-into")) {
      throw Invocation.usage(
          "--key-into is for a new private key; the existing one stays where it is.",
          "Leave it out, or copy the key with symbolon convert.");
    }
    List<Finding> findings = RuleCheck.all(draft, key.publicKey(), rules, into.shown());
    String alias = invocation.value("alias").orElse(base);
    return new RequestPlan(draft, key, lasts, rules, into, keyInto, alias, findings);
  }

  private static Destination into(Invocation invocation, String base) {
    Destination into =
        Destination.of(invocation.value("into").orElse(base + ".csr"), invocation.value("as"));
    if (into.folder()) {
      throw Invocation.usage(into.shown() + " is a folder.", "Name the file of the request.");
    }
    if (!into.target().can(Ability.REQUESTS)) {
      throw Invocation.usage(
          "A request is written as PEM or DER, not as " + into.target().title() + ".",
          "Name the keystore of the key with --key-into.");
    }
    return into;
  }

  private static Destination keyInto(Invocation invocation, String base) {
    Destination keyInto =
        Destination.of(invocation.value("key-into").orElse(base + ".key"), Optional.empty());
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
