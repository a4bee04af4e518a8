// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.acme.records.IssueTablesOpener;
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
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Ledger;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.text.VisibleText;
import java.security.SecureRandom;
import java.util.Optional;

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
    AuthorityFolder folder = invocation.authority(GivenOptions.path(given.argument()));
    Optional<String> into = given.value("into").map(AuthorityRecords::place);
    AuthorityFolder now = folder;
    boolean moves =
        into.isPresent() && !into.get().equals(folder.recordsPlace().orElse(RecordsPlaces.FILES));
    if (moves) {
      SigningAuthority authority =
          folder.unlock(invocation.keyPasswords(folder, given.unlock()), new SecureRandom());
      now = RecordsPlaces.move(authority, into.get()).folder();
      invocation.closing(now);
    }
    Ledger ledger = now.checkRecords();
    Report report = new Report(now, ledger, moves);
    if (invocation.output().isJson()) {
      invocation.output().json(report.document(invocation.output()));
    } else {
      report.print(invocation.output());
    }
    return Finding.anyProblem(ledger.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static String place(String text) {
    if (text.equals(RecordsPlaces.FILES)
        || text.equals(IssueTablesOpener.IN_FOLDER)
        || text.startsWith("jdbc:")) {
      return text;
    }
    throw Usage.wrong(
        "'" + VisibleText.of(text) + "' is not a place for records.",
        "Say files, folder, or the address of a database that begins with jdbc:");
  }

  private record Report(AuthorityFolder folder, Ledger ledger, boolean moved) {
    private String where() {
      String place = folder.recordsPlace().orElse(RecordsPlaces.FILES);
      return switch (place) {
        case RecordsPlaces.FILES -> "the files of " + folder.folder();
        case IssueTablesOpener.IN_FOLDER ->
            "the database " + folder.folder().resolve(IssueTablesOpener.NAME);
        default -> IssueTablesOpener.shown(place);
      };
    }

    private boolean whole() {
      return ledger.findings().stream().noneMatch(one -> one.is(FindingKind.REGISTER_CHANGED));
    }

    void print(Output output) {
      Paint paint = output.paint();
      output.line(
          paint.heading(moved ? "Moved the records of " : "Records of ")
              + HoldingText.name(folder.certificate().subject()));
      output.line("  in       " + VisibleText.of(where()));
      output.line("  issued   " + HoldingText.count(ledger.issued().size(), "certificate"));
      output.line("  revoked  " + ledger.revoked().size());
      output.line(
          "  checked  "
              + (whole()
                  ? paint.good("every entry is whole, and the authority has signed the last")
                  : "every entry was read; see below"));
      new FindingsSection(output).print(ledger.findings());
    }

    RecordsDocument document(Output output) {
      return new RecordsDocument(
          "authority records",
          folder.folder().toString(),
          folder.recordsPlace().map(IssueTablesOpener::shown).orElse(RecordsPlaces.FILES),
          moved,
          ledger.issued().size(),
          ledger.revoked().size(),
          whole(),
          FindingDocument.all(ledger.findings(), output.commands()));
    }
  }
}
