// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.finding.About;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.key.Fit;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.SignatureAlgorithm;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What is to be said of a set of files, beyond what each of them says for itself. */
final class SurveyFindings {
  private final Survey survey;
  private final List<HostName> hosts;
  private final boolean pairingGaveUp;
  private final CertificateJudge judge;
  private final List<Finding> findings = new ArrayList<>();

  SurveyFindings(Survey survey, List<HostName> hosts, boolean pairingGaveUp) {
    this.survey = survey;
    this.hosts = hosts;
    this.pairingGaveUp = pairingGaveUp;
    this.judge = survey.judge();
  }

  List<Finding> all() {
    for (FileSurvey file : survey.files()) {
      speaking(() -> findings.addAll(file.findings()), About.nothing().in(file.path(), ""));
    }
    survey
        .certificates()
        .forEach(
            (certificate, places) ->
                speaking(
                    () -> certificate(certificate, places),
                    in(places.get(0).place()).with(List.of(certificate))));
    for (Match match : survey.matches()) {
      speaking(() -> match(match), in(match.key().place()));
    }
    survey.otherChains().forEach(this::chain);
    survey.files().forEach(file -> new BundleFindings(survey, file).addTo(findings));
    revocation();
    requests();
    hosts.forEach(this::host);
    if (pairingGaveUp) {
      findings.add(
          Finding.of(
              FindingKind.PAIRING_NOT_CHECKED,
              "",
              "Not every private key without its public half was tried against every certificate:"
                  + " there are too many.",
              "Survey fewer files at once."));
    }
    return findings;
  }

  /** Adds findings, and what they speak of where they do not say so themselves. */
  private void speaking(Runnable adding, About about) {
    int from = findings.size();
    adding.run();
    findings
        .subList(from, findings.size())
        .replaceAll(finding -> finding.about(it -> it.or(about)));
  }

  private static About in(Place place) {
    return About.nothing().in(place.file(), place.position());
  }

  private void certificate(Certificate certificate, List<Holding.Cert> places) {
    findings.addAll(judge.judge(certificate, places.get(0).place().toString()));
    if (places.size() > 1) {
      findings.add(
          Finding.of(
              FindingKind.DUPLICATE,
              places.get(0).place().toString(),
              "The certificate of "
                  + certificate.subject().shortText()
                  + " is here "
                  + places.size()
                  + " times: "
                  + listed(places.stream().map(p -> p.place().toString()).toList())
                  + ".",
              ""));
    }
  }

  static String listed(List<String> places) {
    return places.size() <= 6
        ? String.join(", ", places)
        : String.join(", ", places.subList(0, 6)) + " and " + (places.size() - 6) + " more";
  }

  private void match(Match match) {
    String where = match.key().place().toString();
    Set<String> files =
        match.keys().stream()
            .map(k -> VisibleText.of(k.place().file().toString()))
            .collect(Collectors.toCollection(LinkedHashSet::new));
    if (files.size() > 1) {
      findings.add(
          Finding.of(
              FindingKind.KEY_IN_SEVERAL_FILES,
              where,
              "The same private key lies in "
                  + files.size()
                  + " files: "
                  + listed(List.copyOf(files))
                  + ".",
              "Keep the one that is used, and delete the others."));
    }
    if (match.isWaiting()) {
      for (Certificate other : survey.repliesForOtherKeys(match)) {
        findings.add(
            Finding.of(
                FindingKind.REPLY_FOR_ANOTHER_KEY,
                survey.firstPlace(other).map(Place::toString).orElse(where),
                "The certificate of "
                    + other.subject().shortText()
                    + " with the serial number "
                    + other.serialHex()
                    + " is for another key than the one that waits: "
                    + match.description()
                    + ". It answers another request.",
                "Ask the authority for the reply to this request, or look for the key that the"
                    + " certificate is for."));
      }
      findings.add(
          Finding.of(
              FindingKind.WAITING_FOR_REPLY,
              where,
              "The key "
                  + match.description()
                  + " waits in its keystore for the reply to its request.",
              Remedy.of(
                  "When the reply has come, join it with the keystore.",
                  Action.of(Task.JOIN, match.key().place().file())
                      .with(Input.REPLY)
                      .with(
                          Files.exists(match.key().place().file())
                              ? Input.REPLACE
                              : Input.INTO)))); // it lies in an archive
      return;
    }
    Optional<Certificate> stranger = stranger(match);
    if (stranger.isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.KEY_WITHOUT_CERTIFICATE,
              Level.PROBLEM,
              where,
              "The private key "
                  + match.description()
                  + " and the certificate of "
                  + stranger.get().subject().shortText()
                  + " do not belong together: the certificate is for another key.",
              "Look for the key that the certificate was requested with, or for the certificate"
                  + " that was issued for this key."));
      return;
    }
    if (match.certificates().isEmpty()) {
      boolean requested = !match.requests().isEmpty();
      findings.add(
          Finding.of(
              FindingKind.KEY_WITHOUT_CERTIFICATE,
              where,
              "No certificate here belongs to the private key "
                  + match.description()
                  + (requested
                      ? "; its request is in " + match.requests().get(0).place() + "."
                      : "."),
              requested
                  ? "Send the request to the authority, or add the reply to these files."
                  : "Look for the certificate that was issued for this key."));
      return;
    }
    if (match.fit() == Fit.DOES_NOT_FIT) {
      findings.add(
          Finding.of(
              FindingKind.KEY_DOES_NOT_FIT,
              where,
              "The private key says it belongs to the certificate of "
                  + match.certificates().get(0).subject().shortText()
                  + ", but what it signs the certificate does not verify: the key is damaged.",
              "Take the key from a backup, or make a new one and ask for a new certificate."));
    } else if (match.fit() == Fit.NOT_CHECKED) {
      findings.add(CertificateJudge.fitNotChecked(match.certificates().get(0), where));
    }
    if (match.issued().size() > 1) {
      findings.add(
          Finding.of(
              FindingKind.SEVERAL_CERTIFICATES,
              where,
              match.issued().size()
                  + " certificates belong to this key; the one valid until "
                  + match.certificates().get(0).notAfter()
                  + " is taken.",
              "Name fewer files to take another."));
    }
    match.chain().ifPresent(this::chain);
  }

  /** The one end-entity certificate beside the one key, where they do not belong together. */
  private Optional<Certificate> stranger(Match match) {
    if (!match.certificates().isEmpty()
        || survey.matches().size() > 1
        || !match.requests().isEmpty()
        || match.key().key().filter(key -> key.computedPublicHalf().isPresent()).isEmpty()) {
      return Optional.empty();
    }
    List<Certificate> ends =
        survey.certificates().keySet().stream().filter(one -> !one.isAuthority()).toList();
    return ends.size() == 1 ? Optional.of(ends.get(0)) : Optional.empty();
  }

  private void chain(Chain chain) {
    String where = survey.placeOf(chain.endEntity()).map(Place::toString).orElse("");
    findings.addAll(CertificateVerdict.path(survey, chain));
    if (chain.uncheckedLinks() > 0) {
      findings.add(
          Finding.of(
              FindingKind.SIGNATURE_NOT_CHECKED,
              where,
              chain.uncheckedLinks()
                  + " of the signatures in the chain of "
                  + chain.endEntity().subject().shortText()
                  + " could not be checked: this Java lacks the algorithm, or the key that should"
                  + " have made it proves nothing. The chain is not proven.",
              "Ask the authority for its certificates, or use a newer Java."));
    }
    if (chain.reachesRoot() || CertificateVerdict.brokenSignature(survey, chain).isPresent()) {
      return;
    }
    String missing = chain.last().issuer().toString();
    namesake(chain.last(), where);
    if (chain.last().isAuthority()) {
      findings.add(
          Finding.of(
              FindingKind.ROOT_ABSENT,
              where,
              "The chain of "
                  + chain.endEntity().subject().shortText()
                  + " ends at "
                  + chain.last().subject().shortText()
                  + ". Its issuer is not here: "
                  + missing
                  + ".",
              "Ask the authority for the certificate of "
                  + missing
                  + "; whoever trusts this chain needs it."));
    } else {
      findings.add(
          Finding.of(
              FindingKind.ISSUER_ABSENT,
              where,
              "The certificate that issued "
                  + chain.endEntity().subject().shortText()
                  + " is not here: "
                  + missing
                  + ".",
              "If that is an intermediate certificate, ask the authority for it: without it some"
                  + " clients refuse the server. If it is the root, all is well: a server leaves it"
                  + " out, and its clients have it."));
    }
  }

  /** An authority of the right name that signed something else. */
  private void namesake(Certificate last, String where) {
    survey.authoritiesNamed(last.issuer()).stream()
        .findFirst()
        .ifPresent(
            namesake ->
                findings.add(
                    Finding.of(
                        FindingKind.ISSUER_OF_SAME_NAME,
                        where,
                        last.subject().shortText()
                            + " names "
                            + last.issuer()
                            + " as its issuer. A certificate of that name is in "
                            + survey.placeOf(namesake).map(Place::toString).orElse("")
                            + ", but its key did not sign: it is another authority, or the same"
                            + " with another key.",
                        "Ask for the issuer's certificate with the key that signed.")));
  }

  /** What the revocation lists among the files say of the certificates among them. */
  private void revocation() {
    List<Holding.Crl> lists =
        survey.files().stream()
            .flatMap(file -> file.holdings().stream())
            .filter(Holding.Crl.class::isInstance)
            .map(Holding.Crl.class::cast)
            .toList();
    for (Holding.Crl crl : lists) {
      if (crl.list().nextUpdate().filter(survey.now()::isAfter).isPresent()) {
        speaking(() -> findings.add(ended(crl)), in(crl.place()));
      }
    }
    for (Certificate certificate : survey.certificates().keySet()) {
      findings.addAll(CertificateVerdict.revocation(survey, certificate));
    }
  }

  private static Finding ended(Holding.Crl crl) {
    return Finding.of(
        FindingKind.REVOCATION_LIST_EXPIRED,
        crl.place().toString(),
        "The revocation list of "
            + crl.list().issuer().shortText()
            + " was to be relied on until "
            + crl.list().nextUpdate().orElseThrow()
            + ": most servers that are given it refuse everybody.",
        Remedy.of(
            "Get the current list from the authority; if it is your own, write it anew.",
            Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY)));
  }

  private void requests() {
    for (RequestStatus status : survey.requests()) {
      Holding.Request request = status.request();
      if (status.state() == RequestStatus.State.ANSWERED) {
        status
            .reply()
            .ifPresent(reply -> findings.addAll(ReplyComparison.compare(survey, request, reply)));
      }
      if (RequestFlags.asksForAuthority(request.request())) {
        findings.add(
            Finding.of(
                FindingKind.AUTHORITY_FLAG_ASKED,
                request.place().toString(),
                "The request asks for an authority's certificate, which could sign others.",
                Remedy.of("Ask who made it why. An authority made here never grants it.")));
      }
      if (request.request().verify() == SignatureAlgorithm.Validity.INVALID) {
        findings.add(
            Finding.of(
                FindingKind.REQUEST_SIGNATURE_BROKEN,
                request.place().toString(),
                "The request's own signature does not verify: it was changed or damaged.",
                "Make the request again."));
      }
    }
  }

  private void host(HostName host) {
    List<Certificate> candidates =
        survey.matches().stream().flatMap(match -> match.certificates().stream().limit(1)).toList();
    if (candidates.isEmpty()) {
      candidates = survey.certificates().keySet().stream().filter(c -> !c.isAuthority()).toList();
    }
    if (candidates.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.HOST_NOT_COVERED,
              "",
              "No certificate here could cover " + host + ": there is none for a server.",
              "Add the server's certificate to the files."));
      return;
    }
    List<Finding> uncovered = new ArrayList<>();
    for (Certificate candidate : candidates) {
      String where = survey.placeOf(candidate).map(Place::toString).orElse("");
      Optional<Finding> finding = CertificateJudge.host(candidate, host, where);
      if (finding.isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.HOST_COVERED,
                where,
                "The certificate of " + candidate.subject().shortText() + " covers " + host + ".",
                ""));
        return;
      }
      uncovered.add(finding.get());
    }
    findings.addAll(uncovered.subList(0, Math.min(10, uncovered.size())));
  }
}
