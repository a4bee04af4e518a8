// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.RenewalWindow;
import io.symbolon.acme.folder.Standing;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RenewDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.Lifetime;
import io.symbolon.remedy.Remedy;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
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
    RenewJob job = RenewJob.of(given);
    List<Finding> findings = new ArrayList<>();
    List<Renewed> all = new ArrayList<>();
    job.account().ifPresent(wish -> all.addAll(ordered(invocation, wish, job, findings)));
    if (!job.files().isEmpty()) {
      all.addAll(new HandSigned(invocation, job, findings).run());
    }
    findings.addAll(invocation.notices());
    if (invocation.output().isJson()) {
      invocation.output().json(document(invocation.output(), job, all, findings));
    } else {
      print(invocation.output(), all, findings);
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static List<Renewed> ordered(
      Invocation invocation, OrderAccount.Wish wish, RenewJob job, List<Finding> findings) {
    OrderAccount account = OrderAccount.open(invocation, wish);
    return account
        .folder()
        .holding(
            () -> {
              List<Renewed> each = new ArrayList<>();
              for (Standing one : account.folder().standings()) {
                Standing today = StoredRenewal.today(account.folder(), one);
                each.add(renew(invocation, account, today, job.within(), findings));
              }
              return each;
            });
  }

  /** One that fails does not stop the others. */
  private static Renewed renew(
      Invocation invocation,
      OrderAccount account,
      Standing standing,
      Optional<Lifetime> within,
      List<Finding> findings) {
    Optional<Certificate> before = standing.certificate();
    Optional<Instant> due = Optional.empty();
    try {
      due = before.map(one -> due(invocation, account, one, within, findings));
      Instant now = invocation.session().clock().instant();
      if (standing.order().isEmpty() && due.filter(moment -> moment.isAfter(now)).isPresent()) {
        return renewed(standing, Renewed.Outcome.NOT_DUE, before, due);
      }
      OrderJob job =
          StoredRenewal.order(RenewalText.read(standing.job()), account.folder().folder());
      OrderWork.Done done = new OrderWork(invocation, account, job).run(standing);
      done.findings().stream().filter(one -> one.level() == Level.PROBLEM).forEach(findings::add);
      return renewed(standing, Renewed.Outcome.RENEWED, Optional.of(done.certificate()), due);
    } catch (SymbolonException e) {
      findings.add(
          Finding.of(
              FindingKind.RENEWAL_FAILED,
              standing.name(),
              e.statement() + " " + e.seen(),
              standing.isUnfinished() ? forgetting(account, standing, e) : e.remedy()));
      return renewed(standing, Renewed.Outcome.FAILED, before, due);
    }
  }

  /** One that was never obtained need not be tried for ever. */
  private static Remedy forgetting(OrderAccount account, Standing standing, SymbolonException e) {
    return Remedy.of(
        e.remedy().advice()
            + " It was never obtained; to try it no more: symbolon order account --account "
            + VisibleText.of(account.folder().folder().toString())
            + " --forget "
            + VisibleText.of(standing.name()));
  }

  private static Renewed renewed(
      Standing standing,
      Renewed.Outcome outcome,
      Optional<Certificate> now,
      Optional<Instant> due) {
    return new Renewed(
        standing.name(), StoredRenewal.place(standing), outcome, now, due, Optional.empty());
  }

  /** From when on it is due: as was said, as the authority wants, or with a third of its life. */
  private static Instant due(
      Invocation invocation,
      OrderAccount account,
      Certificate certificate,
      Optional<Lifetime> within,
      List<Finding> findings) {
    if (within.isPresent()) {
      Instant now = invocation.session().clock().instant();
      Duration time = Duration.between(now, within.get().from(now));
      return certificate.notAfter().minus(time);
    }
    return RenewalWindow.due(certificate, advice(account, certificate, findings));
  }

  /**
   * When the authority wants it to be renewed is advice: whatever is wrong with it stops nothing.
   */
  private static Optional<RenewalWindow> advice(
      OrderAccount account, Certificate certificate, List<Finding> findings) {
    String why;
    try {
      Optional<RenewalWindow> window = account.remote().authority().renewal(certificate);
      if (window.isEmpty() || window.get().end().isAfter(certificate.notBefore())) {
        return window;
      }
      why = "It wants the certificate to be renewed before it began.";
    } catch (SymbolonException e) {
      why = e.seen();
    } catch (RuntimeException e) {
      why = "Its answer can't be read: " + VisibleText.of(e.toString());
    }
    findings.add(
        Finding.of(
            FindingKind.RENEWAL_ADVICE_UNUSABLE,
            VisibleText.of(account.folder().directory().toString()),
            "What the authority says of when to renew can't be used. "
                + why
                + " It is renewed with a third of its life left.",
            "Tell whoever runs the authority."));
    return Optional.empty();
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
              case FAILED -> paint.level(Level.PROBLEM, title);
            };
        output.line(
            painted
                + "  "
                + VisibleText.of(one.name())
                + until
                + (one.name().equals(VisibleText.of(one.place()))
                    ? ""
                    : paint.faint("  " + VisibleText.of(one.place()))));
      }
    }
    if (!findings.isEmpty()) {
      new FindingsSection(output).print(findings);
    }
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
                        one.waiting().map(files -> files.key().toString())))
            .toList(),
        FindingDocument.all(findings, output.commands()));
  }
}
