// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.due;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.configure.PlaceReport;
import io.symbolon.due.DueList;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.configure.RecordedPlace;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.place.PlacesText;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.task.words.Wording;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Looks for everything that ends, in files, keystores, folders of accounts and authorities, and at
 * running servers, and says what of it is due. What can't be looked at is a finding.
 */
public final class DueJob {
  /** What ends within this time is due, where nothing else is said. */
  public static final Lifetime USUAL = Lifetime.days(30);

  private static final Duration EACH = Duration.ofSeconds(10);
  private static final Duration LATELY = Duration.ofDays(30);
  private static final Duration YEAR = Duration.ofDays(366);
  private static final int MOST = 10_000; // certificates of one authority

  /**
   * A running server.
   *
   * @param host its name or address
   */
  public record Server(String host, int port) {
    /** {@return as it is written} */
    public String address() {
      return host + ":" + port;
    }
  }

  private final List<Path> paths;
  private final List<Server> servers;
  private final Lifetime within;
  private final List<PasswordSource> unlock;

  private DueJob(Builder builder) {
    this.paths = List.copyOf(builder.paths);
    this.servers = List.copyOf(builder.servers);
    this.within = builder.within;
    this.unlock = List.copyOf(builder.unlock);
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param paths files, keystores, and folders of all kinds
   */
  public static Builder of(Collection<Path> paths) {
    return new Builder(paths);
  }

  /** {@return the same for these} */
  public static Builder of(Path... paths) {
    return of(List.of(paths));
  }

  /**
   * Looks.
   *
   * @param run what it is done in
   * @return what ends, and what could not be looked at
   */
  public DueReport run(TaskRun run) {
    Instant now = run.around().clock().instant();
    List<Finding> findings = new ArrayList<>();
    DueList list = gathered(run, findings);
    findings.addAll(run.notices());
    return new DueReport(list.items(), now, within.from(now), findings);
  }

  private DueList gathered(TaskRun run, List<Finding> findings) {
    DueList list = new DueList();
    List<Path> plain = new ArrayList<>();
    for (Path path : paths) {
      try {
        if (AccountFolder.isOne(path)) {
          account(run, list, path, findings);
        } else if (Files.isRegularFile(path.resolve(AuthorityFolder.KEY))) {
          authority(run, list, path, findings);
        } else {
          plain.add(path);
        }
      } catch (SymbolonException e) {
        findings.add(Finding.of(e, Level.PROBLEM));
      }
    }
    if (!plain.isEmpty()) {
      Survey survey = run.survey(plain, run.unlock(unlock));
      list.add(survey);
      survey.failures().forEach(e -> findings.add(Finding.of(e, Level.PROBLEM)));
    }
    for (Server server : servers) {
      try {
        server(run, server, list, findings);
      } catch (SymbolonException e) {
        findings.add(Finding.of(e, Level.PROBLEM));
      }
    }
    return list;
  }

  /** What was named and showed no certificate was not looked at, whatever it answered. */
  private static void server(TaskRun run, Server server, DueList list, List<Finding> findings) {
    ProbeReport report =
        Probe.of(server.host(), server.port())
            .withLimit(EACH)
            .withClock(run.around().clock())
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
                    .map(one -> " " + one.statement(Naming.MARKS))
                    .orElse(""),
            "See what it answers: symbolon probe " + server.address()));
  }

  private static void account(TaskRun run, DueList list, Path path, List<Finding> findings) {
    AccountFolder folder = AccountFolder.look(path);
    for (Standing one : folder.standings()) {
      if (one.certificate().isPresent()) {
        list.addObtained(path, one.certificate().get(), place(one));
        List<PlacesRecord.Place> places =
            folder.places(one).map(json -> PlacesText.read(json).places()).orElse(List.of());
        for (PlacesRecord.Place place : places) {
          shown(run, list, path, place, one.certificate().get(), findings);
        }
      }
    }
  }

  /** What a server shows that was given the certificate: its file, and the running server. */
  private static void shown(
      TaskRun run,
      DueList list,
      Path path,
      PlacesRecord.Place place,
      Certificate wanted,
      List<Finding> findings) {
    String where = VisibleText.of(place.title() + ", " + place.home());
    try {
      AccountFolder unused = AccountFolder.open(path); // it names files and passwords to be read
      RecordedPlace recorded = RecordedPlace.of(place);
      Optional<PlaceReport> there = recorded.read(run);
      Set<String> files = there.map(RecordedPlace::leaves).orElse(Set.of());
      Optional<Certificate> running = there.flatMap(one -> recorded.running(run, one));
      running.ifPresent(one -> list.addServer(where, List.of(one)));
      if (!files.contains(wanted.sha256())) {
        findings.add(
            notShown(
                path, where, "Its files hold another certificate than the account obtained last."));
      } else if (running.isEmpty()) {
        findings.add(
            notShown(
                path, where, "Its files hold the certificate, and nobody answers there with one."));
      } else if (!files.contains(running.get().sha256())) {
        findings.add(
            notShown(
                path,
                where,
                "Its files hold the certificate, and the running server shows another one, until "
                    + running.get().notAfter()
                    + "."));
      }
    } catch (SymbolonException e) {
      findings.add(Finding.of(e, Level.PROBLEM));
    }
  }

  private static Finding notShown(Path account, String where, String seen) {
    return Finding.of(
        FindingKind.RENEWAL_NOT_SHOWN,
        where,
        "The server does not show the certificate that the account obtained. " + seen,
        "Give it the certificate: symbolon renew "
            + Input.ACCOUNT.mention(VisibleText.of(account.toString())));
  }

  private static String place(Standing standing) {
    try {
      return RenewalText.read(standing.job()).path().toString();
    } catch (SymbolonException e) {
      return standing.name(); // what is stored of it is damaged; its renewal tells that
    }
  }

  private void authority(TaskRun run, DueList list, Path path, List<Finding> findings) {
    AuthorityFolder folder = run.authority(path);
    if (folder.recordsPlace().isPresent()) {
      fromDatabase(run.around().clock().instant(), list, folder, findings);
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
  private void fromDatabase(
      Instant now, DueList list, AuthorityFolder folder, List<Finding> findings) {
    Instant year = now.plus(YEAR);
    Instant limit = within.from(now);
    List<Certificate> ending =
        folder.ending(now.minus(LATELY), limit.isAfter(year) ? limit : year, MOST);
    list.addAuthority(folder.folder(), folder.chain(), ending, folder.list());
    if (ending.size() == MOST) {
      findings.add(
          Finding.of(
              FindingKind.NOT_ALL_SHOWN,
              Wording.shown(folder.folder()),
              "It has issued more that ends within a year: only the first "
                  + MOST
                  + " of them are here.",
              "Look again when these are renewed."));
    }
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> paths;
    private final List<Server> servers = new ArrayList<>();
    private final List<PasswordSource> unlock = new ArrayList<>();
    private Lifetime within = USUAL;

    private Builder(Collection<Path> paths) {
      this.paths = List.copyOf(paths);
    }

    /** A running server, which is asked for the certificate that it shows. */
    public Builder server(String host, int port) {
      servers.add(new Server(host, port));
      return this;
    }

    /** What ends within this time is due. */
    public Builder within(Lifetime time) {
      within = time;
      return this;
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** {@return the job} */
    public DueJob build() {
      return new DueJob(this);
    }
  }
}
