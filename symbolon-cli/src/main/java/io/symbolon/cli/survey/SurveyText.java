// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.survey;

import io.symbolon.chain.Chain;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.issue.RequestDraft;
import io.symbolon.key.Fit;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.NextStep;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** A survey as text for a person. */
final class SurveyText {
  private static final int HOLDINGS_SHOWN = 12; // of one file
  private static final int FILES_SHOWN = 60;
  private static final int CHAINS_SHOWN = 12;

  private final Output output;
  private final Paint paint;
  private final Survey survey;
  private final List<Finding> findings;
  private final Set<Certificate> alike;

  SurveyText(Output output, Survey survey, List<Finding> more) {
    this.output = output;
    this.paint = output.paint();
    this.survey = survey;
    List<Finding> all = new ArrayList<>(more);
    all.addAll(survey.findings());
    all.sort(Comparator.comparing(Finding::level));
    this.findings = all;
    this.alike = alike(survey.certificates().keySet());
  }

  /** Those that no other word of a line would tell apart. */
  private static Set<Certificate> alike(Set<Certificate> all) {
    return all.stream()
        .collect(
            Collectors.groupingBy(
                one ->
                    HoldingText.name(one.subject())
                        + HoldingText.role(one)
                        + HoldingText.day(one.notAfter())))
        .values()
        .stream()
        .filter(group -> group.size() > 1)
        .flatMap(List::stream)
        .collect(Collectors.toSet());
  }

  /** What tells a certificate from those that look like it: the beginning of its fingerprint. */
  private String mark(Certificate certificate) {
    return alike.contains(certificate)
        ? ", SHA-256 " + certificate.sha256().substring(0, 12) + "…"
        : "";
  }

  void print() {
    files();
    belonging();
    requests();
    if (!findings.isEmpty()) {
      output.line("");
      output.line(paint.heading("Findings") + paint.faint(": " + FindingsText.summary(findings)));
      FindingsText.print(output, findings);
    }
    next();
  }

  private void files() {
    List<FileSurvey> telling = survey.files().stream().filter(FileSurvey::isTelling).toList();
    int width =
        telling.stream()
            .limit(FILES_SHOWN)
            .mapToInt(file -> Output.shown(file.path()).length())
            .max()
            .orElse(0);
    output.line(
        paint.heading("Files")
            + paint.faint(
                ": "
                    + HoldingText.count(survey.files().size(), "file")
                    + ", "
                    + HoldingText.count(survey.certificates().size(), "different certificate")
                    + ", "
                    + HoldingText.count(survey.matches().size(), "private key")));
    telling.stream().limit(FILES_SHOWN).forEach(file -> file(file, Math.min(width, 44)));
    if (telling.size() > FILES_SHOWN) {
      output.line(
          paint.faint(
              "  and "
                  + HoldingText.count(telling.size() - FILES_SHOWN, "more file")
                  + "; --json lists all"));
    }
    int silent = survey.files().size() - telling.size();
    if (silent > 0) {
      output.line(
          paint.faint(
              "  " + HoldingText.count(silent, "file") + " without a key or a certificate"));
    }
  }

  private void file(FileSurvey file, int width) {
    String name = Output.shown(file.path());
    String head =
        "  "
            + HoldingText.padded(name, width)
            + "  "
            + HoldingText.padded(file.format().title(), 8);
    List<Holding> holdings = file.holdings();
    if (holdings.size() == 1) {
      output.line(head + entry(holdings.get(0)));
      return;
    }
    if (holdings.isEmpty()) {
      output.line(
          head
              + (file.locked()
                  ? "locked"
                  : file.failure().isPresent() ? "nothing readable" : "empty"));
      return;
    }
    Map<String, Long> kinds =
        holdings.stream()
            .collect(
                Collectors.groupingBy(
                    HoldingText::kind, LinkedHashMap::new, Collectors.counting()));
    output.line(
        head
            + kinds.entrySet().stream()
                .map(kind -> HoldingText.count(kind.getValue(), kind.getKey()))
                .collect(Collectors.joining(", "))
            + (file.locked() ? ", partly locked" : ""));
    for (Holding holding : holdings.subList(0, Math.min(HOLDINGS_SHOWN, holdings.size()))) {
      String position = holding.alias().isPresent() ? "" : holding.place().position() + ": ";
      output.line("      " + paint.faint(position) + entry(holding));
    }
    if (holdings.size() > HOLDINGS_SHOWN) {
      output.line(
          paint.faint(
              "      and " + (holdings.size() - HOLDINGS_SHOWN) + " more; --json lists all"));
    }
  }

  private String entry(Holding holding) {
    return holding.alias().map(alias -> "'" + HoldingText.plain(alias) + "' ").orElse("")
        + HoldingText.of(holding)
        + (holding instanceof Holding.Cert cert ? mark(cert.certificate()) : "");
  }

  private void belonging() {
    if (survey.matches().isEmpty() && survey.otherChains().isEmpty()) {
      return;
    }
    output.line("");
    output.line(paint.heading("What belongs together"));
    survey.matches().stream().limit(CHAINS_SHOWN).forEach(this::match);
    more(survey.matches().size(), "private key");
    if (!survey.matches().isEmpty() && !survey.otherChains().isEmpty()) {
      output.line("  " + paint.faint("without a private key here:"));
    }
    survey.otherChains().stream().limit(CHAINS_SHOWN).forEach(chain -> chain(chain, "  "));
    more(survey.otherChains().size(), "chain");
  }

  private void more(int count, String what) {
    if (count > CHAINS_SHOWN) {
      output.line(paint.faint("  and " + HoldingText.count(count - CHAINS_SHOWN, "more " + what)));
    }
  }

  private void match(Match match) {
    String places =
        match.keys().stream()
            .map(k -> k.place().toString())
            .distinct()
            .collect(Collectors.joining(", "));
    String fit =
        match.fit() == Fit.FITS
            ? paint.good("  fits: proven by a signature")
            : match.certificates().isEmpty() ? "  " + others(match) : "";
    output.line("  private key  " + paint.faint(places) + fit);
    match.chain().ifPresent(chain -> chain(chain, "   └ "));
  }

  private void requests() {
    List<RequestStatus> all = survey.requests();
    if (all.isEmpty()) {
      return;
    }
    output.line("");
    output.line(paint.heading("Requests"));
    for (RequestStatus status : all.subList(0, Math.min(CHAINS_SHOWN, all.size()))) {
      request(status);
    }
    more(all.size(), "request");
  }

  private void request(RequestStatus status) {
    CertificateRequest request = status.request().request();
    output.line(
        "  "
            + HoldingText.name(request.subject())
            + "  "
            + state(status)
            + "  "
            + paint.faint(status.request().place().toString()));
    String subject = request.subject().toString();
    output.line("    subject  " + (subject.isEmpty() ? "(empty)" : subject));
    NamesText.print(output, "    ", request.extensions().subjectAlternativeNames());
    output.line("    for      " + RequestDraft.of(request).use().title());
    output.line(
        "    key      "
            + request.publicKey().description()
            + "  "
            + status
                .key()
                .map(match -> paint.good("is in " + match.key().place()))
                .orElse(paint.faint("is not among these files")));
    output.line(
        "    signed   "
            + switch (request.verify()) {
              case VALID -> paint.good("by this key");
              case INVALID -> paint.level(Level.PROBLEM, "not by this key");
              case NOT_CHECKED -> "not checked: this Java lacks the algorithm";
            });
  }

  private String state(RequestStatus status) {
    String by =
        status
            .reply()
            .flatMap(survey::firstPlace)
            .map(place -> paint.faint(" by " + place))
            .orElse("");
    return switch (status.state()) {
      case WAITING -> paint.level(Level.WARNING, "waiting for its reply");
      case ANSWERED -> paint.good("answered") + by;
      case SUPERSEDED -> "superseded" + by;
    };
  }

  private static String others(Match match) {
    List<String> others = new ArrayList<>();
    match.requests().forEach(request -> others.add("its request is in " + request.place()));
    match.publicKeys().forEach(half -> others.add("its public key is in " + half.place()));
    return others.isEmpty() ? "fits nothing here" : String.join("; ", others);
  }

  private void chain(Chain chain, String lead) {
    String indent = lead;
    for (Certificate certificate : chain.certificates()) {
      String places =
          survey.certificates().getOrDefault(certificate, List.of()).stream()
              .map(p -> p.place().toString())
              .distinct()
              .limit(3)
              .collect(Collectors.joining(", "));
      output.line(
          indent
              + HoldingText.name(certificate.subject())
              + " ("
              + HoldingText.role(certificate)
              + mark(certificate)
              + ")  "
              + paint.faint(places));
      indent = " ".repeat(indent.length()) + "└ ";
    }
    if (chain.systemRoot().isPresent()) {
      output.line(
          indent
              + HoldingText.name(chain.systemRoot().get().subject())
              + " (root)  "
              + paint.faint("known to this Java"));
    } else if (!chain.reachesRoot()) {
      output.line(indent + paint.level(Level.WARNING, "missing: ") + chain.last().issuer());
    }
    if (chain.uncheckedLinks() > 0) {
      output.line(
          indent
              + paint.level(
                  Level.PROBLEM,
                  "not proven: "
                      + HoldingText.count(chain.uncheckedLinks(), "signature")
                      + " not checked"));
    }
  }

  private void next() {
    if (survey.nextSteps().isEmpty()) {
      return;
    }
    output.line("");
    output.line(paint.heading("Next"));
    for (NextStep step : survey.nextSteps()) {
      if (step.action().isEmpty()) {
        output.wrapped("  ", step.why());
      } else {
        output.pasted("  " + paint.command(output.commands().line(step.action().get())));
        output.line("      " + paint.faint(step.why()));
      }
    }
  }
}
