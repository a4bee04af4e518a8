package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.Finding;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.join.Trust;
import io.symbolon.join.TrustSelector;
import io.symbolon.join.TrustSelector.Choice;
import io.symbolon.seal.Secret;
import io.symbolon.store.StoreEntry;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** {@code symbolon truststore FILE...}. */
final class TruststoreCommand {
  private static final int SHOWN = 30;

  private TruststoreCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.TRUSTSTORE)
        .files(
            "FILE",
            "Anything that holds the certificates to trust. A private key in it is left out.")
        .writing("truststore.p12")
        .unlock()
        .flag(
            "add",
            "Add to the truststore that --into names. It is opened with --unlock and, without --seal,"
                + " keeps its password.")
        .flag("all", "Take every certificate, not the authorities' alone.")
        .common();
  }

  static int run(Invocation invocation) {
    Path into = invocation.into();
    boolean add = invocation.has("add");
    Existing existing = add || invocation.has("replace") ? Existing.REPLACE : Existing.KEEP;
    SafeFile.check(into, existing);
    if (add && !Files.exists(into)) {
      throw Invocation.usage(
          "There is no truststore " + Output.shown(into) + " to add to.",
          "Check the name, or leave --add out to make a new one.");
    }
    List<Secret> unlock = invocation.unlock();
    Survey survey = invocation.survey(invocation.paths(), unlock);
    Choice choice = invocation.has("all") ? Choice.ALL : Choice.AUTHORITIES;
    Trust trust;
    Seal seal;
    if (add) {
      FileSurvey present = invocation.survey(List.of(into), unlock).files().get(0);
      trust = TrustSelector.add(present, survey, choice);
      seal =
          invocation.value("seal").isPresent() || present.opener().isEmpty()
              ? invocation.seal()
              : new Seal(present.opener().get(), Optional.empty(), existing);
    } else {
      trust = TrustSelector.select(survey, choice);
      seal = invocation.seal();
    }
    Optional<Path> aside =
        add && trust.added() == 0
            ? Optional.empty()
            : StoreFile.write(into, trust.toEntries(), seal, existing, Privacy.SYSTEM_DEFAULT);
    Result result = new Result(into, trust, add, seal.description(), aside);
    if (invocation.output().isJson()) {
      invocation.output().json(result::json);
    } else {
      result.print(invocation.output());
    }
    return Finding.anyProblem(trust.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private record Result(
      Path into, Trust trust, boolean add, String sealedWith, Optional<Path> aside) {
    void print(Output output) {
      Paint paint = output.paint();
      if (add && trust.added() == 0) {
        output.line(
            paint.heading("Nothing to add: ")
                + Output.shown(into)
                + " trusts all of them already and was left as it is");
      } else {
        output.line(
            paint.heading(add ? "Added to the truststore" : "Made a truststore")
                + paint.faint(
                    "  "
                        + HoldingText.count(trust.entries().size(), "certificate")
                        + (add ? ", " + trust.added() + " of them new" : "")));
      }
      int width =
          trust.entries().stream().limit(SHOWN).mapToInt(e -> e.alias().length()).max().orElse(1);
      trust.entries().stream().limit(SHOWN).forEach(entry -> print(output, entry, width));
      if (trust.entries().size() > SHOWN) {
        output.line(
            paint.faint("  and " + (trust.entries().size() - SHOWN) + " more; --json lists all"));
      }
      output.line("  into     " + Output.shown(into) + paint.faint("  PKCS#12, no private key"));
      output.line("  sealed   with " + sealedWith);
      if (aside.isPresent()) {
        output.line(
            "  before   "
                + paint.faint(
                    "the old file is kept; symbolon undo "
                        + io.symbolon.survey.ShellQuote.quote(into.toString())
                        + " brings it back"));
      }
      if (!trust.findings().isEmpty()) {
        output.line("");
        output.line(paint.heading("Findings"));
        FindingsText.print(output, trust.findings());
      }
    }

    private static void print(Output output, StoreEntry.Trusted entry, int width) {
      var certificate = entry.certificate();
      output.line(
          String.format("  %-" + width + "s  ", HoldingText.plain(entry.alias()))
              + HoldingText.name(certificate.subject())
              + " ("
              + HoldingText.role(certificate)
              + "), until "
              + HoldingText.day(certificate.notAfter()));
      output.line(
          "  " + " ".repeat(width) + output.paint().faint("  SHA-256 " + certificate.sha256()));
    }

    void json(JsonGenerator json) throws IOException {
      json.writeStartObject();
      json.writeStringField("command", "truststore");
      json.writeObjectFieldStart("truststore");
      json.writeStringField("path", into.toString());
      json.writeStringField("format", "pkcs12");
      json.writeNumberField("added", trust.added());
      json.writeArrayFieldStart("entries");
      for (StoreEntry.Trusted entry : trust.entries()) {
        json.writeStartObject();
        json.writeStringField("alias", entry.alias());
        Json.certificate(json, entry.certificate());
        json.writeEndObject();
      }
      json.writeEndArray();
      json.writeEndObject();
      if (aside.isPresent()) {
        json.writeStringField("replaced", aside.get().toString());
      }
      Json.findings(json, trust.findings());
      json.writeEndObject();
    }
  }
}
