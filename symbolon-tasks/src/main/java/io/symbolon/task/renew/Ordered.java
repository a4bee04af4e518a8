// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.acme.RenewalWindow;
import io.symbolon.acme.folder.Standing;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.remedy.Remedy;
import io.symbolon.task.TaskRun;
import io.symbolon.task.order.AccountSource;
import io.symbolon.task.order.OrderAccount;
import io.symbolon.task.order.OrderJob;
import io.symbolon.task.order.OrderReport;
import io.symbolon.task.order.OrderWork;
import io.symbolon.task.order.StoredRenewal;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What an account has ordered, renewed in its place. */
final class Ordered {
  private final TaskRun run;
  private final RenewJob job;
  private final AccountSource source;
  private final List<Finding> findings;

  Ordered(TaskRun run, RenewJob job, AccountSource source, List<Finding> findings) {
    this.run = run;
    this.job = job;
    this.source = source;
    this.findings = findings;
  }

  List<Renewed> run() {
    OrderAccount account = OrderAccount.open(run, source);
    return account
        .folder()
        .holding(
            () -> {
              List<Renewed> each = new ArrayList<>();
              for (Standing one : account.folder().standings()) {
                each.add(renew(account, StoredRenewal.today(account.folder(), one)));
              }
              return each;
            });
  }

  /** One that fails does not stop the others. */
  private Renewed renew(OrderAccount account, Standing standing) {
    Optional<Certificate> before = standing.certificate();
    Optional<Instant> due = Optional.empty();
    try {
      due = before.map(one -> due(account, one));
      Instant now = run.around().clock().instant();
      if (standing.order().isEmpty() && due.filter(moment -> moment.isAfter(now)).isPresent()) {
        return renewed(standing, Renewed.Outcome.NOT_DUE, before, due);
      }
      OrderJob order =
          StoredRenewal.order(RenewalText.read(standing.job()), account.folder().folder());
      OrderReport done = new OrderWork(run, account, order).run(standing);
      done.findings().stream().filter(one -> one.level() == Level.PROBLEM).forEach(findings::add);
      return renewed(standing, Renewed.Outcome.RENEWED, Optional.of(done.certificate()), due);
    } catch (SymbolonException e) {
      findings.add(
          Finding.of(
              FindingKind.RENEWAL_FAILED,
              standing.name(),
              e.inFull(),
              standing.isUnfinished() ? forgetting(account, standing, e) : e.remedy()));
      return renewed(standing, Renewed.Outcome.FAILED, before, due);
    }
  }

  /** One that was never obtained need not be tried for ever. */
  private static Remedy forgetting(OrderAccount account, Standing standing, SymbolonException e) {
    return e.remedy()
        .and(
            " It was never obtained; to try it no more: symbolon order account "
                + Input.ACCOUNT.mention(VisibleText.of(account.folder().folder().toString()))
                + " "
                + Input.FORGET.mention(VisibleText.of(standing.name())))
        .withoutActions();
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
  private Instant due(OrderAccount account, Certificate certificate) {
    if (job.within().isPresent()) {
      Instant now = run.around().clock().instant();
      Duration time = Duration.between(now, job.within().get().from(now));
      return certificate.notAfter().minus(time);
    }
    return RenewalWindow.due(certificate, advice(account, certificate));
  }

  /**
   * When the authority wants it to be renewed is advice: whatever is wrong with it stops nothing.
   */
  private Optional<RenewalWindow> advice(OrderAccount account, Certificate certificate) {
    String why;
    try {
      Optional<RenewalWindow> window = account.remote().authority().renewal(certificate);
      if (window.isEmpty() || window.get().end().isAfter(certificate.notBefore())) {
        return window;
      }
      why = "It wants the certificate to be renewed before it began.";
    } catch (SymbolonException e) {
      why = e.seen(Naming.MARKS);
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
}
