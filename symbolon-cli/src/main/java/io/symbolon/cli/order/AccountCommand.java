// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.document.AccountDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.order.AccountJob;
import io.symbolon.task.order.AccountReport;
import io.symbolon.task.order.AccountSource;
import io.symbolon.task.order.OrderAccount;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.text.VisibleText;
import java.net.URI;
import java.util.List;
import java.util.Locale;

/** {@code symbolon order account}. */
final class AccountCommand {
  private AccountCommand() {}

  static int run(Invocation invocation, GivenOptions given) {
    if (!given.argument().equals("account")) {
      throw Usage.wrong(
          "'" + VisibleText.of(given.argument()) + "' is not a word of this command.",
          "Files are named with --into; an account is shown with: symbolon order account");
    }
    for (String option : new String[] {"host", "like", "into"}) {
      if (given.has(option)) {
        throw Usage.wrong(
            "--" + option + " is for an order.", "Leave it out, or leave the word account out.");
      }
    }
    AccountSource source = OrderChoice.account(given, OrderChoice.directory(given));
    AccountReport report =
        given.has("forget")
            ? AccountJob.forget(source.folder(), given.value("forget").orElseThrow())
            : changed(invocation, given, source);
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(invocation, report));
    } else if (report.outcome() == AccountReport.Outcome.FORGOTTEN) {
      output.line(
          output.paint().heading("Forgot ")
              + VisibleText.of(given.value("forget").orElseThrow())
              + output.paint().faint("  what was written for it stays where it lies"));
    } else {
      print(output, report);
    }
    return ExitCode.DONE;
  }

  private static AccountReport changed(
      Invocation invocation, GivenOptions given, AccountSource source) {
    AccountJob job =
        new AccountJob(source, given.has("contact"), given.has("new-key"), given.has("give-up"));
    OrderAccount opened = OrderAccount.open(invocation.task(), source);
    if (job.giveUp()) {
      agree(invocation, source);
    }
    return job.run(opened);
  }

  private static void agree(Invocation invocation, AccountSource source) {
    boolean asked =
        source.agrees()
            || (invocation.session().prompt().isAttended()
                && invocation
                    .session()
                    .prompt()
                    .agrees("Nothing more can be ordered with this account. Give it up?"));
    if (!asked) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The account was not given up.",
          "That can't be undone, and nobody said yes.",
          "Give the command again with --agree.");
    }
  }

  private static void print(Output output, AccountReport account) {
    Paint paint = output.paint();
    String heading =
        switch (account.outcome()) {
          case GIVEN_UP -> "Given up: the account ";
          case CHANGED -> "Changed: the account ";
          case SHOWN, FORGOTTEN -> "The account ";
        };
    output.line(paint.heading(heading + "in " + Output.shown(account.folder().folder())));
    output.line("  authority   " + VisibleText.of(account.folder().directory().toString()));
    output.line("  address     " + VisibleText.of(account.address().orElseThrow().toString()));
    output.line("  thumbprint  " + account.thumbprint());
    List<AccountReport.Obtained> all = account.obtained();
    list(output, "  obtained    ", all.stream().filter(one -> !one.unfinished()).toList());
    list(
        output, "  unfinished  ", all.stream().filter(AccountReport.Obtained::unfinished).toList());
    if (all.stream().anyMatch(AccountReport.Obtained::unfinished)) {
      output.line(
          paint.faint("              the same order goes on with it; --forget NAME ends it"));
    }
  }

  private static void list(Output output, String title, List<AccountReport.Obtained> some) {
    String lead = title;
    for (AccountReport.Obtained one : some) {
      output.line(
          lead
              + VisibleText.of(one.name())
              + one.certificate()
                  .map(certificate -> ", until " + HoldingText.day(certificate.notAfter()))
                  .orElse("")
              + (one.ordered() ? ", an order is not finished" : "")
              + output.paint().faint("  " + VisibleText.of(one.place())));
      lead = " ".repeat(title.length());
      for (PlacesRecord.Place place : one.servers()) {
        output.line(
            lead
                + "  shown by "
                + VisibleText.of(place.title())
                + output.paint().faint("  " + VisibleText.of(place.home())));
      }
    }
  }

  private static AccountDocument document(Invocation invocation, AccountReport account) {
    return new AccountDocument(
        "order account",
        account.folder().folder().toString(),
        account.folder().directory().toString(),
        account.address().map(URI::toString).orElse(""),
        account.thumbprint(),
        account.outcome().name().toLowerCase(Locale.ROOT).replace('_', '-'),
        standings(account),
        FindingDocument.all(invocation.notices(), invocation.output().commands()));
  }

  private static List<AccountDocument.ObtainedCertificate> standings(AccountReport account) {
    return account.obtained().stream()
        .map(
            one ->
                new AccountDocument.ObtainedCertificate(
                    one.name(),
                    one.place(),
                    one.certificate().map(certificate -> certificate.notAfter().toString()),
                    one.ordered(),
                    one.servers().stream()
                        .map(
                            at ->
                                new AccountDocument.ShowingServer(
                                    at.server(), at.site(), at.home()))
                        .toList()))
        .toList();
  }
}
