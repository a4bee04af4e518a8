package io.symbolon.cli.output;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonStreamContext;
import io.symbolon.finding.Finding;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.io.IOException;
import java.util.Collection;
import java.util.List;

/** The parts of JSON documents that commands share. */
public final class Json {
  private Json() {}

  public static void findings(JsonGenerator json, Collection<Finding> findings) throws IOException {
    json.writeArrayFieldStart("findings");
    for (Finding finding : findings) {
      json.writeStartObject();
      json.writeStringField("id", finding.id());
      json.writeStringField("level", finding.level().word());
      json.writeStringField("where", finding.where());
      json.writeStringField("statement", finding.statement());
      json.writeStringField("remedy", commands(json).paragraph(finding.remedy()));
      json.writeArrayFieldStart("commands");
      for (String command : commands(json).commands(finding.remedy())) {
        json.writeString(command);
      }
      json.writeEndArray();
      json.writeEndObject();
    }
    json.writeEndArray();
  }

  /** How remedies are worded in this document. */
  public static CommandText commands(JsonGenerator json) {
    JsonStreamContext context = json.getOutputContext();
    while (context.getParent() != null) {
      context = context.getParent();
    }
    return (CommandText) context.getCurrentValue();
  }

  /** The fields of a certificate, into an object that is open. */
  public static void certificate(JsonGenerator json, Certificate certificate) throws IOException {
    json.writeStringField("sha256", certificate.sha256());
    json.writeStringField("keyId", certificate.keyId());
    json.writeStringField("subject", certificate.subject().toString());
    json.writeStringField("issuer", certificate.issuer().toString());
    json.writeStringField("serial", certificate.serialHex());
    json.writeStringField("notBefore", certificate.notBefore().toString());
    json.writeStringField("notAfter", certificate.notAfter().toString());
    hosts(json, certificate.hosts());
    json.writeStringField("algorithm", certificate.publicKey().description());
  }

  public static void hosts(JsonGenerator json, List<GeneralName> names) throws IOException {
    json.writeArrayFieldStart("hosts");
    for (GeneralName name : names) {
      if (name.isHost()) {
        json.writeString(name.value());
      }
    }
    json.writeEndArray();
  }

  public static void certificates(JsonGenerator json, String field, List<Certificate> certificates)
      throws IOException {
    json.writeArrayFieldStart(field);
    for (Certificate certificate : certificates) {
      json.writeStartObject();
      certificate(json, certificate);
      json.writeEndObject();
    }
    json.writeEndArray();
  }
}
