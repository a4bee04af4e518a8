// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.PlaceProbe;
import io.symbolon.configure.RehearsedClient;
import io.symbolon.configure.ServerChange;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.probe.ProbeReport;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.place.Endpoint;
import io.symbolon.task.configure.ChangeReport;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;

/** A change of a server's settings, as it would be or as it was made, for a person. */
final class ChangeText {
  private static final int LABEL = 11;

  private final Output output;
  private final Paint paint;
  private final ServerChange change;
  private final ChangeReport report;
  private final Optional<String> server;
  private final GivenOptions given;

  ChangeText(Output output, ChangeReport report, Optional<String> server, GivenOptions given) {
    this.output = output;
    this.paint = output.paint();
    this.change = report.change();
    this.report = report;
    this.server = server;
    this.given = given;
  }

  void print() {
    Optional<ChangeResult> result = report.result();
    boolean written =
        result
            .filter(
                one ->
                    one.end() == ChangeResult.End.WRITTEN || one.end() == ChangeResult.End.RUNNING)
            .isPresent();
    heading(result);
    new ServersText(output).place(change.place());
    new ChangedFiles(output).print(change.files(), change.steps(), written);
    if (!change.rehearsed().isEmpty() || result.isPresent()) {
      output.line("");
    }
    rehearsed();
    result.ifPresent(this::result);
    renewals();
    new FindingsSection(output).print(report.findings());
    next(result);
  }

  private void heading(Optional<ChangeResult> result) {
    String what;
    if (result.isPresent()) {
      what =
          switch (result.get().end()) {
            case NOTHING -> paint.good("all is as it is wanted; nothing was written");
            case WRITTEN -> paint.good("written");
            case RUNNING ->
                paint.good(
                    (change.isNothing() ? "nothing to write; " : "written, ")
                        + taken(result.get())
                        + "the server does what is wanted");
            case PUT_BACK -> paint.level(Level.PROBLEM, "put back: all is as it was before");
            case PARTLY_BACK ->
                paint.level(
                    Level.PROBLEM, "failed, and not all could be put back: see what is left below");
          };
    } else if (change.isRefused()) {
      what = paint.level(Level.PROBLEM, "not written: " + whyNot());
    } else if (change.isNothing()) {
      what = paint.good("all is as it is wanted; there is nothing to write");
    } else {
      what = "what would change; nothing is written yet";
    }
    output.line(paint.heading(change.title()) + "  " + what);
    output.line("");
  }

  private String taken(ChangeResult result) {
    if (result.reload().isEmpty()) {
      return change.reload().kind() == Reload.Kind.BY_ITSELF ? "reloaded, and " : "";
    }
    return change.reload().kind() == Reload.Kind.RESTART ? "restarted, and " : "reloaded, and ";
  }

  /** Why it is refused; what changes more, or is not understood, would work perhaps. */
  private String whyNot() {
    List<Finding> problems =
        change.findings().stream().filter(one -> one.level() == Level.PROBLEM).toList();
    if (problems.stream().allMatch(one -> one.is(FindingKind.CHANGES_MORE))) {
      return "this would change more than was asked for";
    }
    return problems.stream().allMatch(one -> one.is(FindingKind.SETTING_NOT_UNDERSTOOD))
        ? "the settings are not understood"
        : "this would not work";
  }

  private void rehearsed() {
    if (change.rehearsed().isEmpty()) {
      return;
    }
    output.line(paint.heading("Rehearsed") + paint.faint("  with exactly these files"));
    for (RehearsedClient report : change.rehearsed()) {
      boolean good = report.accepted();
      output.line(
          "  "
              + (good ? paint.good("accepted  ") : paint.level(Level.PROBLEM, "refused   "))
              + Output.shown(report.client()));
    }
  }

  /** Which accounts renew the certificate here. */
  private void renewals() {
    if (report.accounts().isEmpty() || (report.result().isEmpty() && change.isRefused())) {
      return;
    }
    if (change.rehearsed().isEmpty() && report.result().isEmpty()) {
      output.line("");
    }
    for (Path account : report.accounts()) {
      row(
          "Renewals",
          (report.result().isPresent()
                  ? "symbolon renew gives this server each new certificate too"
                  : "with --write, symbolon renew gives this server each new certificate too")
              + paint.faint("  account in " + Output.shown(account)));
    }
  }

  private void result(ChangeResult result) {
    result
        .check()
        .ifPresent(
            check -> {
              boolean passed = change.check().filter(own -> own.isPassed(check)).isPresent();
              row("Checked", passed ? paint.good("passed") : paint.level(Level.PROBLEM, "refused"));
              change
                  .check()
                  .map(OwnCheck::command)
                  .ifPresent(command -> output.pasted("             " + line(command)));
              // A copy is started where the check has passed; nothing else is done if it fails.
              boolean tried = passed && change.check().flatMap(OwnCheck::trial).isPresent();
              boolean refused =
                  result.end() == ChangeResult.End.PUT_BACK
                      && result.probes().isEmpty()
                      && result.reload().isEmpty();
              if (tried) {
                row(
                    "Started",
                    refused
                        ? paint.level(Level.PROBLEM, "not") + ", a copy with these settings"
                        : paint.good("a copy with these settings") + ", and stopped it");
              }
            });
    result
        .reload()
        .ifPresent(
            reload -> {
              row(
                  "Reloaded",
                  change.reload().commands().stream().allMatch(one -> one.isGood(reload))
                      ? paint.good("yes")
                      : paint.level(Level.PROBLEM, "it failed"));
              change.reload().commands().forEach(one -> output.pasted("             " + line(one)));
            });
    for (PlaceProbe.Answer answer : result.probes()) {
      row(
          "Probed",
          (answer.isAsWanted() ? paint.good("as wanted") : paint.level(Level.PROBLEM, "not so"))
              + "  "
              + Output.shown(answer.client())
              + paint.faint("  " + seen(answer)));
    }
    boolean kept =
        new ChangedFiles(output).kept(result.written(), change.files(), report.accounts());
    boolean stays =
        result.end() != ChangeResult.End.PUT_BACK
            && change.steps().stream().anyMatch(step -> step.back().isPresent());
    if (stays) {
      row(
          kept ? "" : "Before",
          paint.faint(
              (kept ? "and this," : "this takes back") + " what the server's own programs did:"));
      List<Proposal.Step> steps = new ArrayList<>(change.steps());
      Collections.reverse(steps);
      steps.forEach(
          step -> step.back().ifPresent(back -> output.pasted("             " + line(back))));
    }
    if (kept || stays) {
      takenAgain(change.reload());
    }
  }

  /** What the server has to do after that. */
  private void takenAgain(Reload reload) {
    if (reload.kind() == Reload.Kind.BY_ITSELF) {
      return;
    }
    boolean commands = !reload.commands().isEmpty();
    row(
        "",
        paint.faint(
            "afterwards let the server take them again"
                + (commands ? ":" : ", as it takes the new settings.")));
    reload.commands().forEach(one -> output.pasted("             " + line(one)));
  }

  private static String seen(PlaceProbe.Answer answer) {
    if (answer.report().isEmpty()) {
      return answer.isAsWanted() ? "sent to TLS" : "no good answer";
    }
    ProbeReport report = answer.report().get();
    return report
            .protocol()
            .map(one -> one + " " + report.cipherSuite().orElse(""))
            .orElse("refused")
        + (answer.isAsWanted() && report.isRefused() ? ", refused as wanted" : "");
  }

  /** What to do then. */
  private void next(Optional<ChangeResult> result) {
    if (result.isEmpty()) {
      if (!change.isRefused() && !change.isNothing()) {
        output.line("");
        output.line(paint.heading("Next") + "  make the change");
        output.pasted("  " + paint.command(command("--write")));
      }
      return;
    }
    if (result.get().end() != ChangeResult.End.WRITTEN) {
      return;
    }
    Reload reload = change.reload();
    output.line("");
    output.line(
        paint.heading("Next")
            + "  "
            + (reload.kind() == Reload.Kind.BY_ITSELF && reload.running()
                ? "ask the server"
                : reload.running() || reload.kind() == Reload.Kind.BY_HAND || !given.has("reload")
                    ? "let the server take the new settings"
                    : "the server does not run: start it"));
    output.wrapped("  ", reload.says());
    reload.commands().forEach(one -> output.pasted("  " + paint.command(line(one))));
    probe().ifPresent(one -> output.pasted("  " + paint.command(one)));
  }

  private Optional<String> probe() {
    Optional<Endpoint> endpoint = change.probe().endpoint();
    return endpoint.map(
        one -> {
          List<String> words = new ArrayList<>(List.of("symbolon", "probe"));
          String host = one.reachable();
          words.add((host.indexOf(':') >= 0 ? "[" + host + "]" : host) + ":" + one.port());
          change
              .probe()
              .host()
              .map(HostName::typed)
              .ifPresent(name -> words.addAll(List.of("--host", name)));
          for (Path client : given.paths("client")) {
            words.addAll(List.of("--credential", client.toString()));
          }
          return output.commands().shell().line(words);
        });
  }

  private String command(String... more) {
    List<String> words = new ArrayList<>(List.of("symbolon", "configure"));
    server.ifPresent(words::add);
    words.addAll(given.typed());
    words.addAll(List.of(more));
    return output.commands().shell().line(words);
  }

  private String line(ServerCommand command) {
    return output.commands().shell().fed(command.input(), command.line());
  }

  private void row(String label, String text) {
    output.line("  " + HoldingText.padded(label, LABEL) + text);
  }
}
