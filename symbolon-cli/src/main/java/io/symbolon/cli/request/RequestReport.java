// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RequestDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.output.CommandText;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.task.request.RequestPlan;
import io.symbolon.task.request.RequestResult;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.task.words.Wording;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.GeneralName;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What was asked for, for a person or as JSON. */
record RequestReport(RequestPlan plan, RequestResult result) {
  void print(Output output) {
    Paint paint = output.paint();
    output.line(paint.heading("Request for ") + HoldingText.name(result.request().subject()));
    fields(output, plan);
    output.line(
        "  into     "
            + plan.into().shown()
            + paint.faint("  " + plan.into().target().title() + ", no private key in it"));
    if (result.keyFile().isPresent()) {
      WrittenText text = new WrittenText(output, result.keyFile().get());
      boolean store = plan.keyInto().filter(to -> to.target().isStore()).isPresent();
      text.whereKey(
          store ? ", waits as '" + HoldingText.plain(plan.alias()) + "' for its reply" : "");
      text.findings(keyFindings());
    }
    List<Finding> told = new ArrayList<>(plan.findings());
    told.addAll(result.notices());
    new FindingsSection(output).print(told);
    output.line("");
    output.line(paint.heading("To paste into an order form"));
    new String(RequestResult.pem(result.request()), StandardCharsets.US_ASCII)
        .lines()
        .forEach(output::pasted);
    output.line("");
    output.line(paint.heading("Next"));
    output.wrapped(
        "  ",
        "Send "
            + plan.into().shown()
            + " (or the text above) to the authority, ask for a certificate that is valid for "
            + plan.lasts().title()
            + ", and keep the private key where it is. When the reply has come, in whatever file:");
    output.pasted("  " + output.commands().form(next()));
  }

  /** That a new key in PEM has no alias is no news. */
  private List<Finding> keyFindings() {
    return result.keyFile().stream()
        .flatMap(file -> file.findings().stream())
        .filter(finding -> !finding.is(FindingKind.NAMES_LEFT_OUT))
        .toList();
  }

  /** What takes the reply. */
  private Action next() {
    Path keyFile =
        plan.keyInto()
            .map(Destination::path)
            .orElseGet(() -> plan.key().place().orElseThrow().file());
    Action join = Action.of(Task.JOIN, keyFile).with(Input.REPLY);
    Optional<String> source = result.keyFile().flatMap(WrittenResult::source);
    if (source.isPresent()) {
      join = join.with(Input.PASSWORD, source.get());
    }
    if (plan.keyInto().filter(to -> to.target().isStore()).isPresent()) {
      return join.with(Input.REPLACE);
    }
    String base = Wording.fileName(plan.draft());
    return join.with(Input.INTO, base + ".p12").with(Input.NEW_PASSWORD_FILE, base + "-store.pass");
  }

  /** What a request says, field by field. */
  static void fields(Output output, RequestPlan plan) {
    Paint paint = output.paint();
    String subject = plan.draft().subject().toString();
    output.line("  subject  " + (subject.isEmpty() ? "(empty)" : subject));
    NamesText.print(output, plan.draft().names());
    output.line("  for      " + plan.draft().use().title());
    output.line(
        "  key      "
            + plan.key().publicKey().description()
            + paint.faint(
                plan.key().place().map(place -> "  the one in " + place).orElse("  new")));
    plan.rules()
        .ifPresent(
            rules ->
                output.line(
                    "  rules    "
                        + (Finding.anyProblem(plan.findings())
                            ? paint.level(io.symbolon.finding.Level.PROBLEM, "broken")
                            : paint.good("kept"))
                        + paint.faint("  those of " + VisibleText.of(rules.receiver()))));
  }

  RequestDocument document(CommandText commands) {
    List<Finding> findings = new ArrayList<>(plan.findings());
    findings.addAll(keyFindings());
    findings.addAll(result.notices());
    return new RequestDocument(
        "request",
        Optional.empty(),
        askedFor(plan, Optional.of(result.request())),
        result
            .keyFile()
            .map(file -> new RequestDocument.KeyFile(WrittenDocument.of(file), plan.alias())),
        Optional.of(commands.form(next())),
        FindingDocument.all(findings, commands));
  }

  private static RequestDocument.AskedFor askedFor(
      RequestPlan plan, Optional<CertificateRequest> request) {
    return new RequestDocument.AskedFor(
        request.map(one -> plan.into().path().toString()),
        request.map(one -> plan.into().target().word()),
        request.map(CertificateRequest::sha256),
        plan.key().publicKey().keyId(),
        plan.draft().subject().toString(),
        CertificateDocument.hosts(plan.draft().names()),
        plan.draft().names().stream().map(GeneralName::toString).toList(),
        plan.draft().use().word(),
        plan.key().publicKey().description(),
        request.map(one -> new String(RequestResult.pem(one), StandardCharsets.US_ASCII)));
  }

  /** The document of a request that a problem kept from being written. */
  static RequestDocument refused(RequestPlan plan, CommandText commands) {
    return new RequestDocument(
        "request",
        Optional.of(true),
        askedFor(plan, Optional.empty()),
        Optional.empty(),
        Optional.empty(),
        FindingDocument.all(plan.findings(), commands));
  }
}
