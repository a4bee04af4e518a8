package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import java.io.IOException;
import java.util.List;
import java.util.Locale;

/** The JSON document of a command that failed: its failure as the one finding. */
record FailureJson(String command, SymbolonException failure) implements Output.JsonValue {
  @Override
  public void write(JsonGenerator json) throws IOException {
    String id = failure.reason().name().toLowerCase(Locale.ROOT).replace('_', '-');
    json.writeStartObject();
    json.writeStringField("command", command);
    json.writeBooleanField("failed", true);
    Json.findings(
        json,
        List.of(
            Finding.problem(id, "", failure.statement() + " " + failure.seen(), failure.remedy())));
    json.writeEndObject();
  }
}
