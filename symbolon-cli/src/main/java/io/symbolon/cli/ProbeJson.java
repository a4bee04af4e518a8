package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.tls.ProbeReport;
import java.io.IOException;
import java.util.Locale;

/** A probe as JSON. */
record ProbeJson(ProbeReport report) implements Output.JsonValue {
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
    Json.findings(json, report.findings());
    json.writeEndObject();
  }

  private static String word(ProbeReport.Check check) {
    return check.name().toLowerCase(Locale.ROOT).replace('_', '-');
  }
}
