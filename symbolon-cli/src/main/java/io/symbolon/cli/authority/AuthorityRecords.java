// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RecordsDocument;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.issue.record.Ledger;
import io.symbolon.task.authority.RecordsJob;
import io.symbolon.task.authority.RecordsPlaces;
import io.symbolon.task.authority.RecordsReport;
import io.symbolon.text.VisibleText;

/** {@code symbolon authority records FOLDER}. */
final class AuthorityRecords {
  private AuthorityRecords() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.RECORDS)
        .one("FOLDER", "The folder of the authority.")
        .value(
            "into",
            "PLACE",
            "Where they are moved: files (the files of the folder), folder (a database in the folder),"
                + " or the address of a database, such as jdbc:postgresql://HOST/NAME. What is there"
                + " already stays.")
        .value("unlock", "SOURCE", "The password of the authority's key; asked for if not given.")
        .common();
  }

  static int run(Invocation invocation, GivenOptions given) {
    RecordsReport report =
        new RecordsJob(
                GivenOptions.path(given.argument()),
                given.value("into").map(AuthorityRecords::place),
                given.unlock())
            .run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(report, output));
    } else {
      print(output, report);
    }
    return Finding.anyProblem(report.ledger().findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static String place(String text) {
    if (text.equals(RecordsPlaces.FILES)
        || text.equals(RecordsPlaces.IN_FOLDER)
        || text.startsWith("jdbc:")) {
      return text;
    }
    throw Usage.wrong(
        "'" + VisibleText.of(text) + "' is not a place for records.",
        "Say files, folder, or the address of a database that begins with jdbc:");
  }

  private static void print(Output output, RecordsReport report) {
    Ledger ledger = report.ledger();
    Paint paint = output.paint();
    output.line(
        paint.heading(report.moved() ? "Moved the records of " : "Records of ")
            + HoldingText.name(report.folder().certificate().subject()));
    output.line("  in       " + VisibleText.of(report.where()));
    output.line("  issued   " + HoldingText.count(ledger.issued().size(), "certificate"));
    output.line("  revoked  " + ledger.revoked().size());
    output.line(
        "  checked  "
            + (report.isWhole()
                ? paint.good("every entry is whole, and the authority has signed the last")
                : "every entry was read; see below"));
    new FindingsSection(output).print(ledger.findings());
  }

  private static RecordsDocument document(RecordsReport report, Output output) {
    Ledger ledger = report.ledger();
    return new RecordsDocument(
        "authority records",
        report.folder().folder().toString(),
        report.place(),
        report.moved(),
        ledger.issued().size(),
        ledger.revoked().size(),
        report.isWhole(),
        FindingDocument.all(ledger.findings(), output.commands()));
  }
}
