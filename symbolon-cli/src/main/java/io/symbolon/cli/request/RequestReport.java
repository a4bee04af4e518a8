package io.symbolon.cli.request;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Json;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.write.WrittenJson;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.GeneralName;
import java.io.IOException;
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
    new FindingsSection(output).print(result.notices());
    output.line("");
    output.line(paint.heading("To paste into an order form"));
    new String(RequestResult.pem(result.request()), StandardCharsets.US_ASCII)
        .lines()
        .forEach(output::line);
    output.line("");
    output.line(paint.heading("Next"));
    output.wrapped(
        "  ",
        "Send "
            + plan.into().shown()
            + " (or the text above) to the authority, ask for a certificate that is valid for "
            + plan.lasts().title()
            + ", and keep the private key where it is. When the reply has come, in whatever file:");
    output.line("  " + output.commands().form(next()));
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
    String base = DraftOptions.fileName(plan.draft());
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
                        + paint.good("kept")
                        + paint.faint("  those of " + VisibleText.of(rules.receiver()))));
  }

  void json(JsonGenerator json) throws IOException {
    CertificateRequest request = result.request();
    json.writeStartObject();
    json.writeStringField("command", "request");
    json.writeObjectFieldStart("request");
    json.writeStringField("path", plan.into().path().toString());
    json.writeStringField("format", plan.into().target().word());
    json.writeStringField("sha256", request.sha256());
    fields(json, plan);
    json.writeStringField("pem", new String(RequestResult.pem(request), StandardCharsets.US_ASCII));
    json.writeEndObject();
    if (result.keyFile().isPresent()) {
      json.writeObjectFieldStart("key");
      WrittenJson.write(json, result.keyFile().get());
      json.writeStringField("alias", plan.alias());
      json.writeEndObject();
    }
    json.writeStringField("next", Json.commands(json).form(next()));
    List<Finding> findings = new ArrayList<>(plan.findings());
    findings.addAll(keyFindings());
    findings.addAll(result.notices());
    Json.findings(json, findings);
    json.writeEndObject();
  }

  private static void fields(JsonGenerator json, RequestPlan plan) throws IOException {
    json.writeStringField("keyId", plan.key().publicKey().keyId());
    json.writeStringField("subject", plan.draft().subject().toString());
    Json.hosts(json, plan.draft().names());
    json.writeArrayFieldStart("names");
    for (GeneralName name : plan.draft().names()) {
      json.writeString(name.toString());
    }
    json.writeEndArray();
    json.writeStringField("for", plan.draft().use().word());
    json.writeStringField("algorithm", plan.key().publicKey().description());
  }

  static void refused(JsonGenerator json, RequestPlan plan) throws IOException {
    json.writeStartObject();
    json.writeStringField("command", "request");
    json.writeBooleanField("failed", true);
    json.writeObjectFieldStart("request");
    fields(json, plan);
    json.writeEndObject();
    Json.findings(json, plan.findings());
    json.writeEndObject();
  }
}
