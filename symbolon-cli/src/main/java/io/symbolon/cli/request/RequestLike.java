// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.RequestDraft;
import io.symbolon.survey.KeyChooser;
import io.symbolon.survey.Match;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What shall be asked for again.
 *
 * @param draft what it has
 * @param key the private key that lies with it
 */
record RequestLike(RequestDraft draft, Optional<Match> key) {
  static Optional<RequestLike> of(Invocation invocation, RequestJob job) {
    return job.like().map(file -> of(invocation, job, file));
  }

  private static RequestLike of(Invocation invocation, RequestJob job, Path file) {
    Survey survey = invocation.survey(List.of(file), invocation.unlock(job.unlock()));
    Map<RequestDraft, RequestLike> choices = choices(survey, job.alias());
    if (choices.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "There is nothing to ask for again.",
                      Output.shown(file) + " holds no end-entity certificate and no request.",
                      "Name the certificate, keystore or request to renew."));
    }
    if (choices.size() > 1) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "It is not clear what to ask for again.",
          Output.shown(file)
              + " holds "
              + choices.size()
              + ": "
              + choices.keySet().stream()
                  .limit(10)
                  .map(draft -> "'" + HoldingText.name(draft.subject()) + "'")
                  .collect(Collectors.joining(", "))
              + ".",
          "Choose one with --alias NAME, or name a file with one.");
    }
    return choices.values().iterator().next();
  }

  private static Map<RequestDraft, RequestLike> choices(Survey survey, Optional<String> alias) {
    Map<RequestDraft, RequestLike> choices = new LinkedHashMap<>();
    List<Match> named = KeyChooser.named(survey.matches(), alias);
    for (Match match : named.isEmpty() ? survey.matches() : named) {
      match.certificates().stream()
          .findFirst()
          .map(RequestDraft::of)
          .or(() -> match.requests().stream().findFirst().map(r -> RequestDraft.of(r.request())))
          .ifPresent(draft -> choices.put(draft, new RequestLike(draft, Optional.of(match))));
    }
    if (!choices.isEmpty()) {
      return choices;
    }
    List<Certificate> ends = new ArrayList<>(survey.certificates().keySet());
    ends.removeIf(Certificate::isAuthority);
    ends.forEach(
        end -> {
          RequestDraft draft = RequestDraft.of(end);
          choices.put(draft, new RequestLike(draft, Optional.empty()));
        });
    for (RequestStatus status : survey.requests()) {
      RequestDraft draft = RequestDraft.of(status.request().request());
      choices.putIfAbsent(draft, new RequestLike(draft, Optional.empty()));
    }
    return choices;
  }
}
