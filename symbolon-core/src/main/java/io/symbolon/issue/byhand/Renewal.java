// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.byhand;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.RequestDraft;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Input;
import io.symbolon.survey.Holding;
import io.symbolon.survey.KeyChooser;
import io.symbolon.survey.Match;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.Arrays;
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
 * @param kind the kind of its key, where it is one that can be made
 */
public record Renewal(RequestDraft draft, Optional<Match> key, Optional<KeyKind> kind) {
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
          "Choose one with " + Input.ALIAS.mention("NAME") + ", or name a file with one.");
    }
    return choices.values().iterator().next();
  }

  private static Map<RequestDraft, Renewal> choices(Survey survey, Optional<String> alias) {
    Map<RequestDraft, Renewal> choices = new LinkedHashMap<>();
    List<Match> named = KeyChooser.named(survey.matches(), alias);
    for (Match match : named.isEmpty() ? survey.matches() : named) {
      match.certificates().stream()
          .findFirst()
          .map(Renewal::of)
          .or(() -> match.requests().stream().findFirst().map(Renewal::of))
          .ifPresent(
              one ->
                  choices.put(
                      one.draft(), new Renewal(one.draft(), Optional.of(match), one.kind())));
    }
    if (!choices.isEmpty()) {
      return choices;
    }
    List<Certificate> ends = new ArrayList<>(survey.certificates().keySet());
    ends.removeIf(Certificate::isAuthority);
    ends.forEach(
        end -> {
          Renewal one = of(end);
          choices.put(one.draft(), one);
        });
    for (RequestStatus status : survey.requests()) {
      Renewal one = of(status.request());
      choices.putIfAbsent(one.draft(), one);
    }
    return choices;
  }

  private static Renewal of(Certificate certificate) {
    return new Renewal(
        RequestDraft.of(certificate), Optional.empty(), kind(certificate.publicKey()));
  }

  private static Renewal of(Holding.Request holding) {
    CertificateRequest request = holding.request();
    return new Renewal(RequestDraft.of(request), Optional.empty(), kind(request.publicKey()));
  }

  /** The kind of a certificate's key, where it is one that can be made. */
  static Optional<KeyKind> kindOf(Certificate certificate) {
    return kind(certificate.publicKey());
  }

  private static Optional<KeyKind> kind(SubjectPublicKeyInfo key) {
    return Arrays.stream(KeyKind.values()).filter(one -> one.isOf(key)).findFirst();
  }
}
