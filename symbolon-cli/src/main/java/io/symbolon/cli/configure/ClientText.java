// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.configure.ClientChange;
import io.symbolon.configure.RehearsedClient;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.probe.ProbeReport;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** A change of a client's settings, as it would be or as it was made, for a person. */
final class ClientText {
  private static final int LABEL = 11;

  private final Output output;
  private final Paint paint;
  private final ClientChange change;
  private final ClientKind kind;
  private final List<String> typed;

  ClientText(Output output, ClientChange change, ClientKind kind, List<String> typed) {
    this.output = output;
    this.paint = output.paint();
    this.change = change;
    this.kind = kind;
    this.typed = typed;
  }

  void print(Optional<List<WrittenItem>> written, List<Finding> findings) {
    String what =
        change.isRefused()
            ? paint.level(Level.PROBLEM, "not written: this would not work")
            : change.isNothing()
                ? paint.good("all is as it is wanted; there is nothing to write")
                : written.isPresent()
                    ? paint.good("written")
                    : "what would change; nothing is written yet";
    output.line(paint.heading(change.title()) + "  " + what);
    output.line("");
    int others = change.client().trust().orElse(List.of()).size() - change.trust().size();
    row(
        "trusts",
        change.trust().stream().map(ClientText::name).collect(Collectors.joining(", "))
            + (others > 0 ? paint.faint(", and " + others + " that are trusted already") : ""));
    change.client().credential().ifPresent(own -> row("shows", name(own.certificate())));
    new ChangedFiles(output).print(change.files(), List.of(), written.isPresent());
    boolean kept =
        written.filter(all -> all.stream().anyMatch(one -> one.aside().isPresent())).isPresent();
    if (!change.rehearsed().isEmpty() || change.answer().isPresent() || kept) {
      output.line("");
    }
    proven();
    written.ifPresent(all -> new ChangedFiles(output).kept(all, change.files()));
    new FindingsSection(output).print(findings);
    next(written);
  }

  private static String name(Certificate certificate) {
    return HoldingText.name(certificate.subject());
  }

  private void proven() {
    for (RehearsedClient report : change.rehearsed()) {
      row(
          "Rehearsed",
          (report.accepted() ? paint.good("accepted") : paint.level(Level.PROBLEM, "refused"))
              + "  "
              + Output.shown(report.client()));
    }
    if (change.answer().isPresent()) {
      ProbeReport report = change.answer().get();
      boolean good = !change.isRefused();
      row(
          "Asked",
          (good ? paint.good("as wanted") : paint.level(Level.PROBLEM, "not so"))
              + "  "
              + Output.shown(report.address())
              + paint.faint(
                  report
                      .protocol()
                      .map(one -> "  " + one + " " + report.cipherSuite().orElse(""))
                      .orElse("")));
    }
  }

  private void next(Optional<List<WrittenItem>> written) {
    if (change.isRefused()) {
      return;
    }
    if (written.isEmpty() && !change.isNothing()) {
      List<String> words = new ArrayList<>(List.of("symbolon", "configure", kind.name()));
      words.addAll(typed);
      words.add("--write");
      output.line("");
      output.line(paint.heading("Next") + "  make the change");
      output.pasted("  " + paint.command(output.commands().shell().line(words)));
      return;
    }
    for (ClientProposal.Use use : change.uses()) {
      output.line("");
      output.line(paint.heading("Use") + "  " + use.what());
      output.pasted("  " + paint.command(use.line()));
    }
  }

  private void row(String label, String text) {
    output.line("  " + HoldingText.padded(label, LABEL) + text);
  }
}
