package io.symbolon.cli.tls;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.cli.output.Json;
import io.symbolon.cli.output.Output;
import io.symbolon.finding.Finding;
import io.symbolon.party.CipherSuite;
import io.symbolon.probe.AddressSeen;
import io.symbolon.probe.ProbeReport;
import io.symbolon.probe.Stapled;
import io.symbolon.probe.VersionTaken;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** A probe as JSON. */
record ProbeJson(ProbeReport report, List<Finding> findings, Optional<Path> saved)
    implements Output.JsonValue {
  @Override
  public void write(JsonGenerator json) throws IOException {
    json.writeStartObject();
    json.writeStringField("command", "probe");
    json.writeStringField("address", report.address());
    json.writeStringField("host", report.host());
    json.writeBooleanField("handshake", report.isHandshakeDone());
    if (report.protocol().isPresent()) {
      json.writeStringField("protocol", report.protocol().get());
    }
    if (report.cipherSuite().isPresent()) {
      json.writeStringField("cipherSuite", report.cipherSuite().get());
    }
    json.writeStringField("trusted", word(report.trust()));
    json.writeStringField("hostCovered", word(report.hostCovered()));
    json.writeBooleanField("clientCertificateAsked", report.clientCertificateAsked());
    json.writeArrayFieldStart("authoritiesNamed");
    for (String authority : report.authoritiesNamed()) {
      json.writeString(authority);
    }
    json.writeEndArray();
    Json.certificates(json, "chain", report.sent());
    if (report.stapled().isPresent()) {
      stapled(json, report.stapled().get());
    }
    json.writeArrayFieldStart("versions");
    for (VersionTaken version : report.versions()) {
      version(json, version);
    }
    json.writeEndArray();
    json.writeArrayFieldStart("addresses");
    for (AddressSeen address : report.addresses()) {
      json.writeStartObject();
      json.writeStringField("ip", address.ip());
      json.writeBooleanField("answers", address.answers());
      if (address.shown().isPresent()) {
        json.writeStringField("sha256", address.shown().get().sha256());
      }
      json.writeEndObject();
    }
    json.writeEndArray();
    if (saved.isPresent() && !report.sent().isEmpty()) {
      json.writeStringField("saved", saved.get().toString());
    }
    Json.findings(json, findings);
    json.writeEndObject();
  }

  private static void stapled(JsonGenerator json, Stapled stapled) throws IOException {
    json.writeObjectFieldStart("stapledStatus");
    if (stapled.status().isPresent()) {
      json.writeStringField("status", stapled.status().get().name().toLowerCase(Locale.ROOT));
    }
    if (stapled.thisUpdate().isPresent()) {
      json.writeStringField("thisUpdate", stapled.thisUpdate().get().toString());
    }
    if (stapled.nextUpdate().isPresent()) {
      json.writeStringField("nextUpdate", stapled.nextUpdate().get().toString());
    }
    json.writeEndObject();
  }

  private static void version(JsonGenerator json, VersionTaken version) throws IOException {
    json.writeStartObject();
    json.writeStringField("version", version.version().title());
    json.writeStringField(
        "answer", version.answer().name().toLowerCase(Locale.ROOT).replace('_', '-'));
    json.writeBooleanField("ownOrder", version.ownOrder());
    json.writeArrayFieldStart("cipherSuites");
    for (CipherSuite suite : version.suites()) {
      json.writeString(suite.name());
    }
    json.writeEndArray();
    if (!version.seen().isEmpty()) {
      json.writeStringField("seen", version.seen());
    }
    json.writeEndObject();
  }

  private static String word(ProbeReport.Check check) {
    return check.name().toLowerCase(Locale.ROOT).replace('_', '-');
  }
}
