package io.symbolon.cli.survey;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.cli.output.Json;
import io.symbolon.cli.output.Output;
import io.symbolon.finding.Finding;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.NextStep;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.text.Hex;
import io.symbolon.x509.Extension;
import io.symbolon.x509.ExtensionText;
import io.symbolon.x509.Extensions;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** A survey as JSON. */
final class SurveyJson implements Output.JsonValue {
  private final Survey survey;
  private final List<Finding> findings;
  private final boolean details;
  private final Map<Holding.PrivateKey, String> keyIds = new HashMap<>();

  SurveyJson(Survey survey, List<Finding> more, boolean details) {
    this.survey = survey;
    this.findings = new ArrayList<>(more);
    this.findings.addAll(survey.findings());
    this.details = details;
    for (Match match : survey.matches()) {
      Optional<String> id =
          match.certificates().stream()
              .findFirst()
              .map(c -> c.keyId())
              .or(
                  () ->
                      match.requests().stream()
                          .findFirst()
                          .map(r -> r.request().publicKey().keyId()));
      for (Holding.PrivateKey key : match.keys()) {
        id.ifPresent(known -> keyIds.put(key, known));
      }
    }
  }

  @Override
  public void write(JsonGenerator json) throws IOException {
    json.writeStartObject();
    json.writeStringField("command", "survey");
    json.writeArrayFieldStart("files");
    for (FileSurvey file : survey.files()) {
      file(json, file);
    }
    json.writeEndArray();
    requests(json);
    Json.findings(json, findings);
    json.writeArrayFieldStart("next");
    for (NextStep step : survey.nextSteps()) {
      json.writeStartObject();
      json.writeStringField("command", step.action().map(Json.commands(json)::line).orElse(""));
      json.writeStringField("why", step.why());
      json.writeEndObject();
    }
    json.writeEndArray();
    json.writeEndObject();
  }

  private void requests(JsonGenerator json) throws IOException {
    json.writeArrayFieldStart("requests");
    for (RequestStatus status : survey.requests()) {
      json.writeStartObject();
      json.writeStringField("where", status.request().place().toString());
      json.writeStringField("sha256", status.request().request().sha256());
      json.writeStringField("state", status.state().name().toLowerCase(Locale.ROOT));
      json.writeStringField(
          "signature",
          status.request().request().verify().name().toLowerCase(Locale.ROOT).replace('_', '-'));
      if (status.key().isPresent()) {
        json.writeStringField("key", status.key().get().key().place().toString());
      }
      if (status.reply().isPresent()) {
        json.writeStringField("reply", status.reply().get().sha256());
      }
      json.writeEndObject();
    }
    json.writeEndArray();
  }

  private void file(JsonGenerator json, FileSurvey file) throws IOException {
    json.writeStartObject();
    json.writeStringField("path", file.path().toString());
    json.writeStringField("format", file.format().word());
    json.writeBooleanField("locked", file.locked());
    if (details) {
      json.writeArrayFieldStart("protections");
      for (ProtectionWorth sealing : file.protections()) {
        json.writeStartObject();
        json.writeStringField("what", sealing.what());
        json.writeStringField("scheme", sealing.scheme());
        json.writeNumberField("rounds", sealing.rounds());
        json.writeStringField(
            "strength", sealing.strength().name().toLowerCase(Locale.ROOT).replace('_', '-'));
        json.writeEndObject();
      }
      json.writeEndArray();
    }
    json.writeArrayFieldStart("holdings");
    for (Holding holding : file.holdings()) {
      json.writeStartObject();
      holding(json, holding);
      json.writeEndObject();
    }
    json.writeEndArray();
    json.writeEndObject();
  }

  private void holding(JsonGenerator json, Holding holding) throws IOException {
    String kind =
        holding instanceof Holding.PrivateKey
            ? "private-key"
            : holding instanceof Holding.PublicKey
                ? "public-key"
                : holding instanceof Holding.Cert
                    ? "certificate"
                    : holding instanceof Holding.Request
                        ? "request"
                        : holding instanceof Holding.Crl ? "revocation-list" : "secret-key";
    json.writeStringField("kind", kind);
    if (!holding.place().position().isEmpty()) {
      json.writeStringField("position", holding.place().position());
    }
    if (holding.alias().isPresent()) {
      json.writeStringField("alias", holding.alias().get());
    }
    if (holding instanceof Holding.PrivateKey key) {
      privateKey(json, key);
    } else if (holding instanceof Holding.PublicKey key) {
      json.writeStringField("sha256", key.key().keyId());
      json.writeStringField("keyId", key.key().keyId());
      json.writeStringField("algorithm", key.key().description());
    } else if (holding instanceof Holding.Cert cert) {
      Json.certificate(json, cert.certificate());
      if (details) {
        json.writeStringField("signature", cert.certificate().signatureAlgorithm().name());
        extensions(json, cert.certificate().extensions());
      }
    } else if (holding instanceof Holding.Request request) {
      json.writeStringField("sha256", request.request().sha256());
      json.writeStringField("keyId", request.request().publicKey().keyId());
      json.writeStringField("subject", request.request().subject().toString());
      Json.hosts(json, request.request().extensions().subjectAlternativeNames());
      json.writeStringField("algorithm", request.request().publicKey().description());
      if (details) {
        json.writeStringField("signature", request.request().signatureAlgorithm().name());
        extensions(json, request.request().extensions());
      }
    } else if (holding instanceof Holding.Crl crl) {
      json.writeStringField("sha256", crl.list().sha256());
      json.writeStringField("issuer", crl.list().issuer().toString());
      json.writeStringField("notBefore", crl.list().thisUpdate().toString());
      if (crl.list().nextUpdate().isPresent()) {
        json.writeStringField("notAfter", crl.list().nextUpdate().get().toString());
      }
      if (details) {
        json.writeNumberField("revoked", crl.list().size());
        extensions(json, crl.list().extensions());
      }
    }
  }

  private static void extensions(JsonGenerator json, Extensions extensions) throws IOException {
    json.writeArrayFieldStart("extensions");
    for (Extension extension : extensions.all()) {
      json.writeStartObject();
      json.writeStringField("oid", extension.oid().toString());
      json.writeStringField("name", ExtensionText.title(extension));
      json.writeBooleanField("critical", extension.critical());
      json.writeStringField("der", Hex.of(extension.value()));
      json.writeArrayFieldStart("values");
      for (String value : ExtensionText.values(extension)) {
        json.writeString(value);
      }
      json.writeEndArray();
      json.writeEndObject();
    }
    json.writeEndArray();
  }

  private void privateKey(JsonGenerator json, Holding.PrivateKey key) throws IOException {
    Optional<String> keyId =
        key.key()
            .flatMap(PrivateKeyInfo::publicHalf)
            .map(SubjectPublicKeyInfo::keyId)
            .or(() -> Optional.ofNullable(keyIds.get(key)))
            .or(
                () ->
                    key.key()
                        .flatMap(PrivateKeyInfo::computedPublicHalf)
                        .map(SubjectPublicKeyInfo::keyId));
    if (keyId.isPresent()) {
      json.writeStringField("keyId", keyId.get());
    }
    if (key.key().isPresent()) {
      json.writeStringField("algorithm", key.key().get().description());
    }
    json.writeBooleanField("encrypted", key.encrypted());
  }
}
