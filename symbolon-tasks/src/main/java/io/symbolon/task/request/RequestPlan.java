// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.request;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.issue.byhand.WaitingKey;
import io.symbolon.issue.rule.RuleCheck;
import io.symbolon.issue.rule.Rules;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.task.RulesSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.words.Wording;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
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
public record RequestPlan(
    RequestDraft draft,
    RequestKey key,
    Lifetime lasts,
    Optional<Rules> rules,
    Destination into,
    Optional<Destination> keyInto,
    String alias,
    List<Finding> findings) {
  private static final Lifetime USUAL = Lifetime.days(397);

  static RequestPlan of(TaskRun run, RequestJob job) {
    Optional<Renewal> like = RequestContent.like(run, job.like(), job.alias(), job.unlock());
    RequestDraft draft = job.content().draft(like.map(Renewal::draft));
    Optional<Rules> rules = job.rules().map(RulesSource::read);
    Lifetime lasts = job.lasts().orElse(USUAL);
    String base = Wording.fileName(draft);
    Destination into = into(job.into().orElseGet(() -> usual(base, job.format())));
    RequestKey key = RequestKey.of(run, job, like, rules.map(Rules::keys).orElse(List.of()));
    Optional<Destination> keyInto =
        key.isNew()
            ? Optional.of(
                keyInto(
                    job.keyInto().orElseGet(() -> Destination.of(Path.of(base + ".key"))), base))
            : Optional.empty();
    List<Finding> findings = RuleCheck.all(draft, key.publicKey(), rules, into.shown());
    String alias = job.alias().orElse(base);
    return new RequestPlan(draft, key, lasts, rules, into, keyInto, alias, findings);
  }

  private static Destination usual(String base, Optional<Format> format) {
    Path file = Path.of(base + ".csr");
    return format.map(said -> Destination.of(file, said)).orElseGet(() -> Destination.of(file));
  }

  /** {@return whether a problem keeps it from being written} */
  public boolean isRefused() {
    return Finding.anyProblem(findings);
  }

  /** The key with what is asked for. */
  WaitingKey waiting() {
    return new WaitingKey(alias, draft, key.info(), key.publicKey(), lasts);
  }

  /** Checks that a request can go there. */
  public static Destination into(Destination into) {
    if (into.folder()) {
      throw new WrongJob(into.shown() + " is a folder.", "Name the file of the request.");
    }
    if (!into.target().can(Ability.REQUESTS)) {
      throw new WrongJob(
          "A request is written as PEM or DER, not as " + into.target().title() + ".",
          "Name the keystore of the key with " + Input.KEY_INTO.mention() + ".");
    }
    return into;
  }

  /** Checks that a new key can go there. */
  public static Destination keyInto(Destination keyInto, String base) {
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
  public static final KeyKind USUAL_KEY = KeyKind.EC_P256;
}
