package io.symbolon.cli.output;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import java.io.IOException;
import java.util.List;

/** The JSON document of a command that failed: its failure as the one finding. */
public record FailureJson(String command, SymbolonException failure) implements Output.JsonValue {
  @Override
  public void write(JsonGenerator json) throws IOException {
    json.writeStartObject();
    json.writeStringField("command", command);
    json.writeBooleanField("failed", true);
    Json.findings(json, List.of(Finding.of(failure, Level.PROBLEM)));
    json.writeEndObject();
  }
}
