// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.survey.KeyChooser;
import io.symbolon.survey.Match;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What is to be asked for again.
 *
 * @param draft what it has
 * @param key the private key that lies with it
 */
public record Renewal(RequestDraft draft, Optional<Match> key) {
  /**
   * Finds what is to be asked for again.
   *
   * @param survey the files with it: a certificate, a keystore or a request
   * @param alias which of several is meant
   * @param shown what to call the files
   * @return what it has
   * @throws SymbolonException if there is nothing, or several and it is not clear which is meant
   */
  public static Renewal of(Survey survey, Optional<String> alias, String shown) {
    Map<RequestDraft, Renewal> choices = choices(survey, alias);
    if (choices.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "There is nothing to ask for again.",
                      shown + " holds no end-entity certificate and no request.",
                      "Name the certificate, keystore or request to renew."));
    }
    if (choices.size() > 1) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "It is not clear what to ask for again.",
          shown
              + " holds "
              + choices.size()
              + ": "
              + choices.keySet().stream()
                  .limit(10)
                  .map(draft -> "'" + draft.subject().shortText() + "'")
                  .collect(Collectors.joining(", "))
              + ".",
          "Choose one with --alias NAME, or name a file with one.");
    }
    return choices.values().iterator().next();
  }

  private static Map<RequestDraft, Renewal> choices(Survey survey, Optional<String> alias) {
    Map<RequestDraft, Renewal> choices = new LinkedHashMap<>();
    List<Match> named = KeyChooser.named(survey.matches(), alias);
    for (Match match : named.isEmpty() ? survey.matches() : named) {
      match.certificates().stream()
          .findFirst()
          .map(RequestDraft::of)
          .or(() -> match.requests().stream().findFirst().map(r -> RequestDraft.of(r.request())))
          .ifPresent(draft -> choices.put(draft, new Renewal(draft, Optional.of(match))));
    }
    if (!choices.isEmpty()) {
      return choices;
    }
    List<Certificate> ends = new ArrayList<>(survey.certificates().keySet());
    ends.removeIf(Certificate::isAuthority);
    ends.forEach(
        end -> {
          RequestDraft draft = RequestDraft.of(end);
          choices.put(draft, new Renewal(draft, Optional.empty()));
        });
    for (RequestStatus status : survey.requests()) {
      RequestDraft draft = RequestDraft.of(status.request().request());
      choices.putIfAbsent(draft, new Renewal(draft, Optional.empty()));
    }
    return choices;
  }
}
