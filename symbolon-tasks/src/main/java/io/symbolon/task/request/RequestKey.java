// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.request;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.key.KeyKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Input;
import io.symbolon.survey.KeyChooser;
import io.symbolon.survey.Match;
import io.symbolon.survey.Place;
import io.symbolon.survey.Survey;
import io.symbolon.task.TaskRun;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/**
 * The key a request is made with.
 *
 * @param info the private key
 * @param publicKey its public half
 * @param place where an existing key lies; nothing for a new one
 */
public record RequestKey(
    PrivateKeyInfo info, SubjectPublicKeyInfo publicKey, Optional<Place> place) {
  /** {@return whether it was made for this} */
  public boolean isNew() {
    return place.isEmpty();
  }

  /**
   * The existing key that is named, or a new one.
   *
   * @param allowed the kinds that the receiver takes; empty for all
   */
  static RequestKey of(TaskRun run, RequestJob job, Optional<Renewal> like, List<KeyKind> allowed) {
    if (!job.key().isExisting()) {
      return fresh(job.key().kind().orElseGet(() -> usual(allowed)));
    }
    Optional<Path> file = job.key().file();
    if (file.isPresent()) {
      Survey survey = run.survey(List.of(file.get()), run.unlock(job.unlock()));
      return existing(chosen(survey, job.alias(), file.get()));
    }
    Match match =
        like.flatMap(Renewal::key)
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.NOT_FOUND,
                        "The same key can't be used again.",
                        "There is no readable private key in "
                            + job.like().map(Wording::shown).orElse("")
                            + ".",
                        "Name the file of the key with "
                            + Input.KEY.mention("FILE")
                            + ", or leave "
                            + Input.SAME_KEY.mention()
                            + " out."));
    return existing(match);
  }

  /** The kind that is made where nothing else is said. */
  public static KeyKind usual(List<KeyKind> allowed) {
    return allowed.isEmpty() || allowed.contains(RequestPlan.USUAL_KEY)
        ? RequestPlan.USUAL_KEY
        : allowed.get(0);
  }

  private static RequestKey fresh(KeyKind kind) {
    KeyPair pair = kind.generate(new SecureRandom());
    return new RequestKey(
        PrivateKeyInfo.of(pair), SubjectPublicKeyInfo.of(pair.getPublic()), Optional.empty());
  }

  private static Match chosen(Survey survey, Optional<String> alias, Path file) {
    return KeyChooser.choose(survey, alias)
        .orElseThrow(
            () ->
                survey.failures().stream()
                    .findFirst()
                    .orElseGet(
                        () ->
                            new SymbolonException(
                                Reason.NOT_FOUND,
                                "There is no key to ask with.",
                                Wording.shown(file) + " holds no readable private key.",
                                "Name another file, or leave "
                                    + Input.KEY.mention()
                                    + " out for a new key.")));
  }

  private static RequestKey existing(Match match) {
    PrivateKeyInfo info = match.key().key().orElseThrow();
    SubjectPublicKeyInfo half =
        match.certificates().stream()
            .findFirst()
            .map(certificate -> certificate.publicKey())
            .or(() -> match.requests().stream().findFirst().map(r -> r.request().publicKey()))
            .or(info::computedPublicHalf)
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.UNSUPPORTED,
                        "No request can be made with this key.",
                        "This Java can't compute its public half (" + info.description() + ").",
                        "Use a newer Java."));
    return new RequestKey(info, half, Optional.of(match.key().place()));
  }
}
