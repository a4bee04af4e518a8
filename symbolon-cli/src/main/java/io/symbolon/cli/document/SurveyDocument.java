// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.finding.Finding;
import io.symbolon.issue.RequestDraft;
import io.symbolon.key.Fit;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The document of survey. */
public record SurveyDocument(
    String command,
    List<SurveyedFile> files,
    @JsonPropertyDescription("The private keys that were opened, with what belongs to each.")
        List<Belonging> belonging,
    @JsonPropertyDescription("The chains without a private key here.")
        List<ChainDocument> otherChains,
    List<SurveyedRequest> requests,
    List<FindingDocument> findings,
    @JsonPropertyDescription("What to do next.") List<Next> next) {

  /** A file. */
  public record SurveyedFile(
      String path,
      String format,
      @JsonPropertyDescription("Whether something in it needs a password that was not given.")
          boolean locked,
      @JsonPropertyDescription("How it is protected; with --details.")
          Optional<List<SurveyedProtection>> protections,
      List<HoldingDocument> holdings) {}

  /** How something in a file is protected. */
  public record SurveyedProtection(String what, String scheme, int rounds, String strength) {
    private static SurveyedProtection of(ProtectionWorth worth) {
      return new SurveyedProtection(
          worth.what(), worth.scheme(), worth.rounds(), Words.of(worth.strength()));
    }
  }

  /** A private key and what belongs to it. */
  public record Belonging(
      @JsonPropertyDescription("Where the private key lies.") List<String> keys,
      Optional<String> keyId,
      @JsonPropertyDescription("The fingerprints of its certificates, the best one first.")
          List<String> certificates,
      @JsonPropertyDescription("Where its requests lie.") List<String> requests,
      @JsonPropertyDescription("Where its public key lies alone.") List<String> publicKeys,
      @JsonPropertyDescription("Whether a signature proved that key and certificate fit.")
          boolean fitProven,
      @JsonPropertyDescription("The chain of the best certificate.")
          Optional<ChainDocument> chain) {
    private static Belonging of(Match match) {
      return new Belonging(
          match.keys().stream().map(key -> key.place().toString()).distinct().toList(),
          HoldingDocument.keyId(match),
          match.certificates().stream().map(Certificate::sha256).toList(),
          match.requests().stream().map(one -> one.place().toString()).toList(),
          match.publicKeys().stream().map(one -> one.place().toString()).toList(),
          match.fit() == Fit.FITS,
          match.chain().map(ChainDocument::of));
    }
  }

  /** A certificate signing request. */
  public record SurveyedRequest(
      String where,
      String sha256,
      @JsonPropertyDescription("waiting, answered or superseded.") String state,
      @JsonPropertyDescription("Whether its own key signed it: valid, invalid or not-checked.")
          String signature,
      String subject,
      List<String> names,
      @JsonPropertyDescription("What it is for.") String use,
      @JsonPropertyDescription("Where its private key lies, if it is among the files.")
          Optional<String> key,
      @JsonPropertyDescription("The fingerprint of the certificate that answers it.")
          Optional<String> reply) {
    private static SurveyedRequest of(RequestStatus status) {
      var request = status.request().request();
      return new SurveyedRequest(
          status.request().place().toString(),
          request.sha256(),
          Words.of(status.state()),
          Words.of(request.verify()),
          request.subject().toString(),
          request.extensions().subjectAlternativeNames().stream()
              .map(GeneralName::toString)
              .toList(),
          RequestDraft.of(request).use().word(),
          status.key().map(match -> match.key().place().toString()),
          status.reply().map(Certificate::sha256));
    }
  }

  /** Something to do next. */
  public record Next(
      @JsonPropertyDescription("The command, or empty where there is none for it.") String command,
      String why) {}

  /**
   * The document of a survey.
   *
   * @param more findings beside those of the survey
   * @param details whether all that is known of each thing is told
   */
  public static SurveyDocument of(
      Survey survey, List<Finding> more, boolean details, CommandText commands) {
    List<Finding> findings = new ArrayList<>(more);
    findings.addAll(survey.findings());
    HoldingDocument.Writer holdings = new HoldingDocument.Writer(survey, details);
    return new SurveyDocument(
        "survey",
        survey.files().stream().map(file -> file(file, holdings, details)).toList(),
        survey.matches().stream().map(Belonging::of).toList(),
        survey.otherChains().stream().map(ChainDocument::of).toList(),
        survey.requests().stream().map(SurveyedRequest::of).toList(),
        FindingDocument.all(findings, commands),
        survey.nextSteps().stream()
            .map(step -> new Next(step.action().map(commands::line).orElse(""), step.why()))
            .toList());
  }

  private static SurveyedFile file(
      FileSurvey file, HoldingDocument.Writer holdings, boolean details) {
    List<HoldingDocument> held = new ArrayList<>();
    for (Holding holding : file.holdings()) {
      held.add(holdings.of(holding));
    }
    return new SurveyedFile(
        file.path().toString(),
        file.format().word(),
        file.locked(),
        details
            ? Optional.of(file.protections().stream().map(SurveyedProtection::of).toList())
            : Optional.empty(),
        held);
  }
}
