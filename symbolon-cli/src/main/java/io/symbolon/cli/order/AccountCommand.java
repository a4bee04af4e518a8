// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.acme.wire.AccountKey;
import io.symbolon.cli.document.AccountDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.KeyKind;
import io.symbolon.text.VisibleText;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.List;

/** {@code symbolon order account}. */
final class AccountCommand {
  private AccountCommand() {}

  static int run(Invocation invocation, AccountJob job) {
    if (job.forget().isPresent()) {
      return forget(invocation, job, job.forget().get());
    }
    OrderAccount account = OrderAccount.open(invocation, job.account());
    AccountFolder folder = account.folder();
    if (job.giveUp()) {
      agree(invocation, job);
    }
    AccountKey key = folder.holding(() -> changed(account, job));
    String outcome =
        job.giveUp() ? "given-up" : job.newKey() || job.contacts() ? "changed" : "shown";
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(invocation, account, key, outcome));
    } else {
      print(output, account, key, outcome);
    }
    return ExitCode.DONE;
  }

  /** Needs neither the authority nor a password: nothing is asked and nothing is opened. */
  private static int forget(Invocation invocation, AccountJob job, String name) {
    AccountFolder folder = AccountFolder.open(job.account().folder());
    boolean known = folder.holding(() -> folder.forget(name));
    if (!known) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "Nothing was forgotten.",
          "The account has nothing of the name " + VisibleText.of(name) + ".",
          "See the names: symbolon order account --account " + Output.shown(folder.folder()));
    }
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          new AccountDocument(
              "order account",
              folder.folder().toString(),
              folder.directory().toString(),
              "",
              "",
              "forgotten",
              standings(folder),
              FindingDocument.all(invocation.notices(), output.commands())));
    } else {
      output.line(
          output.paint().heading("Forgot ")
              + VisibleText.of(name)
              + output.paint().faint("  what was written for it stays where it lies"));
    }
    return ExitCode.DONE;
  }

  private static void agree(Invocation invocation, AccountJob job) {
    boolean asked =
        job.account().agrees()
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

  /** Returns the key that the account has then. */
  private static AccountKey changed(OrderAccount account, AccountJob job) {
    AccountFolder folder = account.folder();
    RemoteAccount remote = account.remote();
    AccountKey key = AccountKey.of(folder.key(List.of(account.seal())));
    if (job.contacts()) {
      remote.changeContacts(job.account().contacts());
    }
    if (job.newKey()) {
      KeyPair pair = KeyKind.EC_P256.generate(new SecureRandom());
      folder.keepNextKey(pair, account.seal(), new SecureRandom());
      key = AccountKey.of(pair);
      remote = remote.changeKey(key);
      folder.takeNextKey();
    }
    if (job.giveUp()) {
      remote.deactivate();
    }
    return key;
  }

  private static void print(Output output, OrderAccount account, AccountKey key, String outcome) {
    Paint paint = output.paint();
    String heading =
        switch (outcome) {
          case "given-up" -> "Given up: the account ";
          case "changed" -> "Changed: the account ";
          default -> "The account ";
        };
    output.line(paint.heading(heading + "in " + Output.shown(account.folder().folder())));
    output.line("  authority   " + VisibleText.of(account.folder().directory().toString()));
    output.line("  address     " + VisibleText.of(account.remote().url().toString()));
    output.line("  thumbprint  " + key.thumbprint());
    List<Standing> all = account.folder().standings();
    list(output, "  obtained    ", all.stream().filter(one -> !one.isUnfinished()).toList());
    list(output, "  unfinished  ", all.stream().filter(Standing::isUnfinished).toList());
    if (all.stream().anyMatch(Standing::isUnfinished)) {
      output.line(
          paint.faint("              the same order goes on with it; --forget NAME ends it"));
    }
  }

  private static void list(Output output, String title, List<Standing> some) {
    String lead = title;
    for (Standing one : some) {
      output.line(
          lead
              + VisibleText.of(one.name())
              + one.certificate()
                  .map(certificate -> ", until " + HoldingText.day(certificate.notAfter()))
                  .orElse("")
              + (one.order().isPresent() ? ", an order is not finished" : "")
              + output.paint().faint("  " + VisibleText.of(StoredRenewal.place(one))));
      lead = " ".repeat(title.length());
    }
  }

  private static AccountDocument document(
      Invocation invocation, OrderAccount account, AccountKey key, String outcome) {
    return new AccountDocument(
        "order account",
        account.folder().folder().toString(),
        account.folder().directory().toString(),
        account.remote().url().toString(),
        key.thumbprint(),
        outcome,
        standings(account.folder()),
        FindingDocument.all(invocation.notices(), invocation.output().commands()));
  }

  private static List<AccountDocument.ObtainedCertificate> standings(AccountFolder folder) {
    return folder.standings().stream()
        .map(
            one ->
                new AccountDocument.ObtainedCertificate(
                    one.name(),
                    StoredRenewal.place(one),
                    one.certificate().map(certificate -> certificate.notAfter().toString()),
                    one.order().isPresent()))
        .toList();
  }
}
