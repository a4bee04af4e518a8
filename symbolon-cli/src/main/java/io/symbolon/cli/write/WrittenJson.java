package io.symbolon.cli.write;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.util.Locale;

/** Where a result went, in JSON. */
public final class WrittenJson {
  private WrittenJson() {}

  /** Where a result went, into an object that is open. */
  public static void write(JsonGenerator json, WrittenResult result) throws IOException {
    json.writeStringField("path", result.destination().path().toString());
    json.writeStringField("format", result.destination().target().word());
    json.writeArrayFieldStart("files");
    for (WrittenResult.WrittenFile file : result.files()) {
      json.writeStartObject();
      json.writeStringField("path", file.path().toString());
      json.writeBooleanField("privateKey", file.secret());
      json.writeStringField("readers", file.access().readers().name().toLowerCase(Locale.ROOT));
      if (!file.access().owner().isEmpty()) {
        json.writeStringField("owner", file.access().owner());
        json.writeStringField("group", file.access().group());
      }
      if (file.aside().isPresent()) {
        json.writeStringField("replaced", file.aside().get().toString());
      }
      json.writeEndObject();
    }
    json.writeEndArray();
  }
}
