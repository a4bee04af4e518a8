// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.configure.ServerChange;
import io.symbolon.configure.ServerReport;
import io.symbolon.configure.ServerTls;
import io.symbolon.configure.ServerTrial;
import io.symbolon.configure.TrialMaterial;
import io.symbolon.configure.TrialStep;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.task.TaskRun;
import io.symbolon.task.place.Obtained;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Reads the settings of a server, or changes them and proves the change.
 *
 * @param server which server
 * @param home where its settings are; where it is usual, if that is not said
 * @param files what the change is made of
 * @param wish what else is wanted; what is to be shown and trusted comes from the files
 * @param renewed whether a certificate that an account of this machine obtained is renewed there
 *     from then on, by the renewals of the account
 */
public record ConfigureJob(
    Server server, Optional<Path> home, NamedFiles files, Wish wish, boolean renewed) {
  /**
   * A job of which the place is renewed by the account, where an account obtained what it shows.
   */
  public ConfigureJob(Server server, Optional<Path> home, NamedFiles files, Wish wish) {
    this(server, home, files, wish, true);
  }

  /**
   * {@return a job that reads the settings of a server}
   *
   * @param server which server
   */
  public static ConfigureJob of(Server server) {
    return new ConfigureJob(server, Optional.empty(), NamedFiles.of(), Wish.of());
  }

  /** {@return the same for settings in this folder, or in this main file} */
  public ConfigureJob at(Path place) {
    return new ConfigureJob(server, Optional.of(place), files, wish, renewed);
  }

  /** {@return the same with what a change is made of} */
  public ConfigureJob with(NamedFiles named) {
    return new ConfigureJob(server, home, named, wish, renewed);
  }

  /** {@return the same with what else is wanted} */
  public ConfigureJob wishing(Wish said) {
    return new ConfigureJob(server, home, files, said, renewed);
  }

  /** {@return the same, and no account renews it there} */
  public ConfigureJob withoutRenewal() {
    return new ConfigureJob(server, home, files, wish, false);
  }

  /** {@return whether nothing is to be changed} */
  public boolean isReading() {
    return files.credential().isEmpty();
  }

  /**
   * Reads what is there.
   *
   * @param run what it is done in
   * @return every place that speaks TLS, with what is wrong with it
   */
  public ServerReport read(TaskRun run) {
    ServerTls tls = tls(run);
    return wish.site().map(tls::read).orElseGet(tls::read);
  }

  /**
   * Plans the change, and rehearses it in memory. Nothing is written before {@link
   * PlannedChange#apply}.
   *
   * @param run what it is done in
   * @return the change, which the caller closes: it holds private keys
   */
  public PlannedChange plan(TaskRun run) {
    ServerTls tls = tls(run);
    List<Obtained> obtained =
        AccountFolder.known().isEmpty()
            ? List.of()
            : Obtained.among(
                run.survey(files.credential(), run.unlock(files.unlock())).certificates().keySet());
    List<Certificate> roots =
        obtained.stream().flatMap(one -> one.folder().trust().stream()).distinct().toList();
    WishedFiles named = new WishedFiles(run, files, roots);
    ServerChange change = tls.plan(named.wish(wish), named.clients());
    List<Finding> findings = new ArrayList<>(named.findings());
    findings.addAll(change.findings());
    findings.addAll(run.notices());
    findings.sort(Comparator.comparing(Finding::level));
    return new PlannedChange(
        change, findings, new RenewedPlace(home, files, wish, tls, renewed ? obtained : List.of()));
  }

  /**
   * Tries the change in a copy that is never written: every mode, one on top of the other.
   *
   * @param run what it is done in
   * @return what each mode came to
   */
  public TrialReport tryInCopy(TaskRun run) {
    Machine machine = Machine.here();
    Installation there = installation(machine);
    TrialMaterial made = TrialMaterial.madeUp(run.around().clock().instant());
    Optional<WishedFiles> named =
        isReading() ? Optional.empty() : Optional.of(new WishedFiles(run, files, List.of()));
    Wish base = named.map(one -> one.wish(wish)).orElseGet(() -> madeUp(made));
    ClientTrust trust = base.trust().orElse(made.trust());
    List<Certificate> roots = new ArrayList<>(List.of(made.root()));
    named.ifPresent(one -> one.clients().forEach(party -> party.trust().ifPresent(roots::addAll)));
    Surveyor surveyor = run.surveyor(run.unlock(files.unlock())).withKnownRoots(roots);
    Collection<Mode> modes =
        wish.mode().<Collection<Mode>>map(EnumSet::of).orElseGet(server::modes);
    List<TrialStep> steps =
        ServerTrial.run(server, machine, there, base, trust, modes, surveyor, run.around().clock());
    return new TrialReport(server, there, steps, named.isPresent());
  }

  private Wish madeUp(TrialMaterial made) {
    Wish some = wish.withCredentials(List.of(made.credential().withoutRoot()));
    return wish.hosts().isEmpty() ? some.withHosts(List.of(made.host())) : some;
  }

  private ServerTls tls(TaskRun run) {
    Machine machine = Machine.here();
    return ServerTls.of(
        server,
        machine,
        installation(machine),
        run.surveyor(run.unlock(files.unlock())),
        run.around().clock());
  }

  private Installation installation(Machine machine) {
    if (home.isPresent()) {
      return server.at(machine, home.get());
    }
    List<Installation> found = server.find(machine);
    if (found.size() == 1) {
      return found.get(0);
    }
    throw new SymbolonException(
        found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "It is not clear which " + server.title() + " is meant.",
        found.isEmpty()
            ? "None is in the usual places of this machine."
            : "There are "
                + found.size()
                + ": "
                + found.stream()
                    .map(one -> Wording.shown(one.main()))
                    .collect(Collectors.joining(", "))
                + ".",
        "Name the folder of its settings: " + Input.HOME.mention("PATH") + ".");
  }
}
