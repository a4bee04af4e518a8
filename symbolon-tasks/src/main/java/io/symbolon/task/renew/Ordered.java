// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.acme.RenewalWindow;
import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.failure.Reason;
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
import io.symbolon.task.place.OwnPrograms;
import io.symbolon.task.renewal.RenewalJob;
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
    try {
      return each(new Authority(OrderAccount.open(run, source)));
    } catch (SymbolonException e) {
      if (e.reason() != Reason.NO_ANSWER) {
        throw e;
      }
      return each(new Authority(AccountFolder.open(source.folder()), e));
    }
  }

  private List<Renewed> each(Authority authority) {
    return authority
        .folder()
        .holding(
            () -> {
              List<Renewed> each = new ArrayList<>();
              for (Standing one : authority.folder().standings()) {
                each.add(shown(authority, StoredRenewal.today(authority.folder(), one)));
              }
              return each;
            });
  }

  /**
   * The account with its authority, or with why that does not answer: where nothing is due, that
   * stops nobody.
   */
  private record Authority(
      AccountFolder folder, Optional<OrderAccount> open, Optional<SymbolonException> away) {
    Authority(OrderAccount account) {
      this(account.folder(), Optional.of(account), Optional.empty());
    }

    Authority(AccountFolder folder, SymbolonException why) {
      this(folder, Optional.empty(), Optional.of(why));
    }

    OrderAccount account() {
      return open.orElseThrow(() -> away.orElseThrow());
    }
  }

  private List<RenewedAt> programs(AccountFolder folder, Standing standing, Certificate now) {
    Optional<RenewalJob> job = StoredRenewal.of(standing);
    if (job.isEmpty()) {
      return List.of();
    }
    List<RenewedAt> all = new ArrayList<>();
    for (OwnPrograms.Told told :
        new OwnPrograms(folder, standing)
            .run(now, job.get().hosts().get(0).typed(), job.get().path())) {
      told.failure().filter(one -> !findings.contains(one)).ifPresent(findings::add);
      all.add(
          new RenewedAt(
              "program",
              String.valueOf(told.path().getFileName()),
              told.path().toString(),
              told.failure().isPresent()
                  ? RenewedAt.State.NOT_SHOWN
                  : told.started() ? RenewedAt.State.GIVEN : RenewedAt.State.SHOWN));
    }
    return all;
  }

  /** Renewed, and given to the servers that show it. */
  private Renewed shown(Authority authority, Standing standing) {
    Renewed renewed = renew(authority, standing);
    if (renewed.now().isEmpty()) {
      return renewed;
    }
    ServedPlaces places = new ServedPlaces(run, authority.folder(), standing, findings);
    try {
      List<RenewedAt> all = new ArrayList<>(places.renew(renewed.now().get()));
      all.addAll(programs(authority.folder(), standing, renewed.now().get()));
      return renewed.at(all);
    } catch (SymbolonException e) {
      findings.add(
          Finding.of(FindingKind.RENEWAL_NOT_SHOWN, standing.name(), e.inFull(), e.remedy()));
      return renewed;
    }
  }

  /** One that fails does not stop the others. */
  private Renewed renew(Authority authority, Standing standing) {
    Optional<Certificate> before = standing.certificate();
    Optional<Instant> due = Optional.empty();
    try {
      due = before.map(one -> due(authority, one));
      Instant now = run.around().clock().instant();
      if (standing.order().isEmpty() && due.filter(moment -> moment.isAfter(now)).isPresent()) {
        return renewed(standing, Renewed.Outcome.NOT_DUE, before, due);
      }
      OrderAccount account = authority.account();
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
              standing.isUnfinished() ? forgetting(authority.folder(), standing, e) : e.remedy()));
      return renewed(standing, Renewed.Outcome.FAILED, before, due);
    }
  }

  /** One that was never obtained need not be tried for ever. */
  private static Remedy forgetting(AccountFolder folder, Standing standing, SymbolonException e) {
    return e.remedy()
        .and(
            " It was never obtained; to try it no more: symbolon order account "
                + Input.ACCOUNT.mention(VisibleText.of(folder.folder().toString()))
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
  private Instant due(Authority authority, Certificate certificate) {
    if (job.within().isPresent()) {
      Instant now = run.around().clock().instant();
      Duration time = Duration.between(now, job.within().get().from(now));
      return certificate.notAfter().minus(time);
    }
    return RenewalWindow.due(
        certificate, authority.open().flatMap(account -> advice(account, certificate)));
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
