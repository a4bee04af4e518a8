package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.file.Undo;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** {@code symbolon undo FILE}. */
final class UndoCommand {
  private UndoCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.UNDO)
        .one(
            "FILE",
            "The file to bring back as it was before it was last replaced; with --list also a"
                + " folder.")
        .flag("list", "Only list what could be brought back.")
        .common();
  }

  static int run(Invocation invocation) {
    Path path = Invocation.path(invocation.argument());
    List<Undo.Version> versions = Undo.versions(path);
    Output output = invocation.output();
    if (invocation.has("list")) {
      list(output, path, versions);
      return ExitCode.DONE;
    }
    if (versions.isEmpty() || java.nio.file.Files.isDirectory(path)) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is nothing to undo for " + Output.shown(path) + ".",
          versions.isEmpty()
              ? "No earlier version of it is kept beside it."
              : "It is a folder; one file at a time is brought back.",
          "See what there is with symbolon undo --list FOLDER.");
    }
    Undo.Version version = versions.get(0);
    Undo.bringBack(version);
    if (output.isJson()) {
      output.json(json -> document(json, List.of(version)));
    } else {
      output.line(
          output.paint().heading("Brought back ")
              + Output.shown(path)
              + ", as it was until "
              + version.replacedAt());
      output.line(
          output
              .paint()
              .faint("  what was there is kept in turn; the same command brings it back"));
    }
    return ExitCode.DONE;
  }

  private static void list(Output output, Path path, List<Undo.Version> versions) {
    if (output.isJson()) {
      output.json(json -> document(json, versions));
      return;
    }
    if (versions.isEmpty()) {
      output.line("No earlier version of anything is kept at " + Output.shown(path) + ".");
    }
    for (Undo.Version version : versions) {
      output.line(
          "  "
              + Output.shown(version.target())
              + output.paint().faint("  as it was until " + version.replacedAt()));
    }
  }

  private static void document(JsonGenerator json, List<Undo.Version> versions) throws IOException {
    json.writeStartObject();
    json.writeStringField("command", "undo");
    json.writeArrayFieldStart("versions");
    for (Undo.Version version : versions) {
      json.writeStartObject();
      json.writeStringField("path", version.target().toString());
      json.writeStringField("replacedAt", version.replacedAt().toString());
      json.writeEndObject();
    }
    json.writeEndArray();
    Json.findings(json, List.of());
    json.writeEndObject();
  }
}
