package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonGenerator;
import io.symbolon.Finding;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.key.Fit;
import io.symbolon.store.Pkcs12Strength;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon join FILE...}. */
final class JoinCommand {
  private JoinCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.JOIN)
        .files("FILE", "The private key, its certificate and the chain: any files, in any order.")
        .writing("keystore.p12")
        .unlock()
        .value(
            "alias",
            "NAME",
            "The alias in the result; where there are several keys, also which one is meant.")
        .flag("with-root", "Put the root into the chain as well.")
        .flag("incomplete-chain", "Accept a chain that does not reach a root among the files.")
        .common();
  }

  static int run(Invocation invocation) {
    Path into = invocation.into();
    Existing existing = invocation.has("replace") ? Existing.REPLACE : Existing.KEEP;
    SafeFile.check(into, existing);
    Survey survey = invocation.survey(invocation.paths(), invocation.unlock());
    Joined joined = Joiner.join(survey, options(invocation));
    Seal seal = invocation.seal();
    Optional<Path> aside =
        StoreFile.write(into, List.of(joined.toEntry()), seal, existing, Privacy.OWNER_ONLY);
    List<Finding> findings = new ArrayList<>(joined.findings());
    seal.weakness(Output.shown(into)).ifPresent(findings::add);
    Result result = new Result(into, joined, findings, seal.description(), aside, survey);
    if (invocation.output().isJson()) {
      invocation.output().json(result::json);
    } else {
      result.print(invocation.output());
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static JoinOptions options(Invocation invocation) {
    JoinOptions options = JoinOptions.standard();
    if (invocation.value("alias").isPresent()) {
      options = options.withAlias(invocation.value("alias").get());
    }
    if (invocation.has("with-root")) {
      options = options.with(JoinOptions.Root.INCLUDED);
    }
    if (invocation.has("incomplete-chain")) {
      options = options.with(JoinOptions.Incomplete.ACCEPTED);
    }
    return options;
  }

  private record Result(
      Path into,
      Joined joined,
      List<Finding> findings,
      String sealedWith,
      Optional<Path> aside,
      Survey survey) {
    private String readers() {
      return aside.isPresent()
          ? "readable by whoever read the old file, but not by others"
          : "readable by its owner only";
    }

    void print(Output output) {
      Paint paint = output.paint();
      var key = joined.credential().key();
      boolean proven = joined.credential().fit() == Fit.FITS;
      output.line(
          paint.heading("Joined ") + HoldingText.name(joined.credential().certificate().subject()));
      output.line(
          "  key      "
              + key.description()
              + (proven ? paint.good("  fits: proven by a signature") : "  fit not checked"));
      String lead = "  chain    ";
      for (Certificate certificate : joined.credential().chain()) {
        output.line(lead + line(certificate, paint));
        lead = "           ";
      }
      for (Certificate certificate : joined.chain().certificates()) {
        if (!joined.credential().chain().contains(certificate)) {
          output.line(
              "           "
                  + paint.faint(
                      "left out: "
                          + HoldingText.name(certificate.subject())
                          + " (root); clients have it, or --with-root"));
        }
      }
      output.line(
          "  into     "
              + Output.shown(into)
              + paint.faint(
                  "  PKCS#12, alias '" + HoldingText.plain(joined.alias()) + "', " + readers()));
      output.line(
          "  sealed   with "
              + sealedWith
              + paint.faint(
                  String.format(
                      "  PBES2, AES-256, PBKDF2 with %,d rounds", Pkcs12Strength.STRONG.rounds())));
      aside.ifPresent(
          path ->
              output.line(
                  "  before   "
                      + paint.faint(
                          "the old file is kept; symbolon undo "
                              + io.symbolon.survey.ShellQuote.quote(into.toString())
                              + " brings it back")));
      if (!findings.isEmpty()) {
        output.line("");
        output.line(paint.heading("Findings"));
        FindingsText.print(output, findings);
      }
    }

    private String line(Certificate certificate, Paint paint) {
      String place =
          survey.certificates().getOrDefault(certificate, List.of()).stream()
              .findFirst()
              .map(p -> p.place().toString())
              .orElse("known to this Java");
      return HoldingText.name(certificate.subject())
          + " ("
          + HoldingText.role(certificate)
          + "), until "
          + HoldingText.day(certificate.notAfter())
          + "  "
          + paint.faint(place);
    }

    void json(JsonGenerator json) throws IOException {
      json.writeStartObject();
      json.writeStringField("command", "join");
      json.writeObjectFieldStart("credential");
      json.writeStringField("path", into.toString());
      json.writeStringField("format", "pkcs12");
      json.writeStringField("alias", joined.alias());
      json.writeBooleanField("fitProven", joined.credential().fit() == Fit.FITS);
      json.writeBooleanField("chainComplete", joined.chain().isComplete());
      Json.certificates(json, "chain", joined.credential().chain());
      json.writeEndObject();
      if (aside.isPresent()) {
        json.writeStringField("replaced", aside.get().toString());
      }
      Json.findings(json, findings);
      json.writeEndObject();
    }
  }
}
