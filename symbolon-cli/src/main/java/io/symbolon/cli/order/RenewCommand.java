// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RenewDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.issue.Lifetime;
import io.symbolon.task.renew.RenewJob;
import io.symbolon.task.renew.RenewReport;
import io.symbolon.task.renew.Renewed;
import io.symbolon.task.renew.RenewedAt;
import io.symbolon.text.VisibleText;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** {@code symbolon renew}. */
public final class RenewCommand {
  private RenewCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .any(
            "FILE",
            "A keystore, or the files of a key and its certificate, which a person's authority"
                + " signs. When it is due, a new key and its request are made beside it.")
        .value("account", "FOLDER", "The folder of the account, as order has made it.")
        .value(
            "within",
            "TIME",
            "Renew what ends within this time, such as 30d; otherwise what has a third of its life"
                + " left, or what the authority wants to be renewed.")
        .value(
            "seal",
            "SOURCE",
            "With FILE: the password for the new key: ask, env=NAME, file=PATH (first line), empty,"
                + " or new=PATH. Otherwise it is protected as the old one is.")
        .newPassword()
        .flag("unsealed", "With FILE: let the new key lie open, in PEM.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    RenewJob job =
        new RenewJob(
            given.has("account")
                ? Optional.of(OrderChoice.account(given, Optional.empty()))
                : Optional.empty(),
            given.paths(),
            given.value("within").map(Lifetime::parse),
            ResultChoice.of(given),
            given.unlock());
    RenewReport report = job.run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(output, job, report.all(), report.findings()));
    } else {
      print(output, report.all(), report.findings());
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static void print(Output output, List<Renewed> all, List<Finding> findings) {
    Paint paint = output.paint();
    for (Renewed one : all) {
      if (one.outcome() != Renewed.Outcome.NOT_DUE) {
        String until = one.now().map(c -> ", until " + HoldingText.day(c.notAfter())).orElse("");
        String title = one.outcome().title();
        String painted =
            switch (one.outcome()) {
              case RENEWED, PREPARED, NOT_DUE -> paint.good(title);
              case WAITING, ANSWERED -> paint.level(Level.WARNING, title);
              case FAILED, NOT_SHOWN -> paint.level(Level.PROBLEM, title);
            };
        output.line(
            painted
                + "  "
                + VisibleText.of(one.name())
                + until
                + (one.name().equals(VisibleText.of(one.place()))
                    ? ""
                    : paint.faint("  " + VisibleText.of(one.place()))));
        one.servers().forEach(server -> output.line("  " + line(paint, server)));
      }
    }
    if (!findings.isEmpty()) {
      new FindingsSection(output).print(findings);
    }
  }

  private static String line(Paint paint, RenewedAt server) {
    boolean program = server.server().equals("program");
    String state =
        switch (server.state()) {
          case SHOWN, GIVEN -> paint.good(program ? "has it    " : "shows it  ");
          case NOT_SHOWN -> paint.level(Level.PROBLEM, program ? "failed    " : "not seen  ");
          case CHANGED -> paint.level(Level.PROBLEM, "changed   ");
        };
    return state
        + VisibleText.of(server.server())
        + ", "
        + VisibleText.of(server.site())
        + paint.faint("  " + VisibleText.of(server.home()));
  }

  private static RenewDocument document(
      Output output, RenewJob job, List<Renewed> all, List<Finding> findings) {
    return new RenewDocument(
        "renew",
        job.account().map(wish -> wish.folder().toAbsolutePath().normalize().toString()),
        all.stream()
            .map(
                one ->
                    new RenewDocument.RenewedCertificate(
                        one.name(),
                        one.place(),
                        one.outcome().word(),
                        one.now().map(c -> c.notAfter().toString()),
                        one.due().map(Instant::toString),
                        one.waiting().map(files -> files.request().toString()),
                        one.waiting().map(files -> files.key().toString()),
                        one.servers().stream()
                            .map(
                                at ->
                                    new RenewDocument.ShowingServer(
                                        at.server(), at.site(), at.home(), at.state().word()))
                            .toList()))
            .toList(),
        FindingDocument.all(findings, output.commands()));
  }
}
