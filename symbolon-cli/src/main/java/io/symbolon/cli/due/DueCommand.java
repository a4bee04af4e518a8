// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.due.DueList;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Ledger;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.survey.Survey;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** {@code symbolon due}. */
public final class DueCommand {
  private static final Duration EACH = Duration.ofSeconds(10);
  private static final Duration LATELY = Duration.ofDays(30);
  private static final Duration YEAR = Duration.ofDays(366);
  private static final int MOST = 10_000; // certificates of one authority

  private DueCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files(
            "PATH",
            "Files, folders, keystores, folders of accounts and authorities; running servers as"
                + " HOST:PORT.")
        .value("within", "TIME", "What ends within this time is due; 30d by default.")
        .value(
            "into",
            "FILE",
            "Write it as a page for people (due.html), or for a monitoring agent (due.prom,"
                + " OpenMetrics).")
        .flag("replace", "Replace that file.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    DueJob job = DueJob.of(given);
    if (job.into().isPresent() && invocation.output().isJson()) {
      throw Usage.wrong("--into and --json are two ways to tell it.", "Leave one of them out.");
    }
    Instant now = invocation.session().clock().instant();
    List<Finding> findings = new ArrayList<>();
    DueList list = gathered(invocation, job, findings);
    findings.addAll(invocation.notices());
    DueReport report = new DueReport(list.items(), now, job.within().from(now), findings);
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(report.document(output.commands()));
    } else if (job.into().isPresent()) {
      write(job, report, output);
    } else {
      new DueText(output, report).print();
    }
    return !report.due().isEmpty() || Finding.anyProblem(findings)
        ? ExitCode.PROBLEM
        : ExitCode.DONE;
  }

  private static DueList gathered(Invocation invocation, DueJob job, List<Finding> findings) {
    DueList list = new DueList();
    List<Path> plain = new ArrayList<>();
    for (Path path : job.paths()) {
      try {
        if (AccountFolder.isOne(path)) {
          account(list, path);
        } else if (Files.isRegularFile(path.resolve(AuthorityFolder.KEY))) {
          authority(invocation, job, list, path, findings);
        } else {
          plain.add(path);
        }
      } catch (SymbolonException e) {
        findings.add(Finding.of(e, Level.PROBLEM));
      }
    }
    if (!plain.isEmpty()) {
      Survey survey = invocation.survey(plain, invocation.unlock(job.unlock()));
      list.add(survey);
      survey.failures().forEach(e -> findings.add(Finding.of(e, Level.PROBLEM)));
    }
    for (DueJob.Server server : job.servers()) {
      try {
        server(invocation, server, list, findings);
      } catch (SymbolonException e) {
        findings.add(Finding.of(e, Level.PROBLEM));
      }
    }
    return list;
  }

  /** What was named and showed no certificate was not looked at, whatever it answered. */
  private static void server(
      Invocation invocation, DueJob.Server server, DueList list, List<Finding> findings) {
    ProbeReport report =
        Probe.of(server.host(), server.port())
            .withLimit(EACH)
            .withClock(invocation.session().clock())
            .withHandshakeAlone()
            .run();
    if (!report.sent().isEmpty()) {
      list.addServer(server.address(), report.sent());
      return;
    }
    findings.add(
        Finding.of(
            FindingKind.NO_CERTIFICATE_SHOWN,
            server.address(),
            "The server answered and showed no certificate: when its certificate ends is not known."
                + report.findings().stream()
                    .filter(one -> one.level() == Level.PROBLEM)
                    .findFirst()
                    .map(one -> " " + one.statement())
                    .orElse(""),
            "See what it answers: symbolon probe " + server.address()));
  }

  private static void account(DueList list, Path path) {
    for (Standing one : AccountFolder.look(path).standings()) {
      one.certificate().ifPresent(found -> list.addObtained(path, found, place(one)));
    }
  }

  private static String place(Standing standing) {
    try {
      return RenewalText.read(standing.job()).path().toString();
    } catch (SymbolonException e) {
      return standing.name(); // what is stored of it is damaged; its renewal tells that
    }
  }

  private static void authority(
      Invocation invocation, DueJob job, DueList list, Path path, List<Finding> findings) {
    AuthorityFolder folder = invocation.authority(path);
    if (folder.recordsPlace().isPresent()) {
      fromDatabase(invocation.session().clock().instant(), job, list, folder, findings);
      return;
    }
    Ledger ledger = folder.reconcile();
    List<Certificate> valid =
        ledger.issued().stream()
            .filter(one -> !ledger.revoked().containsKey(one.serial()))
            .toList();
    list.addAuthority(path, folder.chain(), valid, ledger.list());
  }

  /** Of what a database holds, only what ends in these months, and what ended lately. */
  private static void fromDatabase(
      Instant now, DueJob job, DueList list, AuthorityFolder folder, List<Finding> findings) {
    Instant year = now.plus(YEAR);
    Instant within = job.within().from(now);
    List<Certificate> ending =
        folder.ending(now.minus(LATELY), within.isAfter(year) ? within : year, MOST);
    list.addAuthority(folder.folder(), folder.chain(), ending, folder.list());
    if (ending.size() == MOST) {
      findings.add(
          Finding.of(
              FindingKind.NOT_ALL_SHOWN,
              Output.shown(folder.folder()),
              "It has issued more that ends within a year: only the first "
                  + MOST
                  + " of them are here.",
              "Look again when these are renewed."));
    }
  }

  private static void write(DueJob job, DueReport report, Output output) {
    Path file = job.into().orElseThrow();
    boolean page = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT).endsWith(".html");
    String text = page ? new DuePage(report, output.commands()).html() : DueMetrics.text(report);
    List<FileSet.Written> unused =
        FileSet.write(
            List.of(
                new FileSet.Item(
                        file,
                        text.getBytes(StandardCharsets.UTF_8),
                        Privacy.SYSTEM_DEFAULT,
                        job.existing())
                    .withoutUndo()));
    output.line(
        "Written to "
            + Output.shown(file)
            + ": "
            + report.items().size()
            + " that end, "
            + report.due().size()
            + " of them due");
  }
}
