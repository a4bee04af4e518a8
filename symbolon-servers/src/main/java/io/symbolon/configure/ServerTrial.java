// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.Server;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.FileForms;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Tries what a server's settings would become in each mode, one on top of the other, in a copy that
 * is never written: whether what is read back is what was wanted, and whether wanting it again
 * changes nothing. Not for several threads.
 */
public final class ServerTrial {
  private final Server server;
  private final Installation installation;
  private final Surveyor surveyor;
  private final Clock clock;
  private final List<TrialStep> steps = new ArrayList<>();
  private Machine copy;

  private ServerTrial(
      Server server, Machine machine, Installation installation, Surveyor surveyor, Clock clock) {
    this.server = server;
    this.copy = machine;
    this.installation = installation;
    this.surveyor = surveyor;
    this.clock = clock;
  }

  /**
   * {@return what came of it, step by step}
   *
   * @param server the kind of server
   * @param machine the machine it is on
   * @param wish what it is to show, in every mode
   * @param trust whose clients it is to trust where it asks them
   * @param modes the modes to be tried
   * @param surveyor how the files are read that its settings name
   * @param clock tells the time
   */
  public static List<TrialStep> run(
      Server server,
      Machine machine,
      Installation installation,
      Wish wish,
      ClientTrust trust,
      Collection<Mode> modes,
      Surveyor surveyor,
      Clock clock) {
    ServerTrial trial = new ServerTrial(server, machine, installation, surveyor, clock);
    List<Mode> order = new ArrayList<>(modes);
    order.removeIf(mode -> !mode.isTls());
    List<Wish> forms = new ArrayList<>();
    FileForms.check(server.title(), server.forms(), wish.form());
    if (server.forms().isEmpty() || wish.form().isPresent()) {
      forms.add(wish);
    } else {
      server.forms().forEach(form -> forms.add(wish.withForm(form)));
    }
    if (order.size() > 1 || forms.size() > 1) {
      order.add(order.get(0)); // the way back takes settings out again
    }
    if (forms.size() > 1) {
      forms.add(forms.get(0));
    }
    trial.run(forms, order, trust);
    return List.copyOf(trial.steps);
  }

  private void run(List<Wish> forms, List<Mode> order, ClientTrust trust) {
    for (Wish wish : forms) {
      for (Mode mode : order) {
        Wish wanted = mode.asksClients() ? wish.withClients(mode, trust) : wish.withMode(mode);
        if (!step(mode, wanted)) {
          return;
        }
      }
    }
  }

  /** Whether it may go on with the next. */
  private boolean step(Mode mode, Wish wish) {
    List<Finding> problems = new ArrayList<>();
    List<FileChange> changes = List.of();
    String name = mode.word() + wish.form().map(form -> ", as " + form).orElse("");
    boolean again = steps.stream().anyMatch(one -> one.what().endsWith(" " + name));
    String what = (again ? "back to " : steps.isEmpty() ? "the settings become " : "then ") + name;
    try {
      Proposal proposal = server.propose(copy, installation, wish);
      changes = proposal.changes().stream().filter(one -> !one.isNothing()).toList();
      Machine after = copy.with(proposal.view());
      readBack(after, proposal, mode, problems);
      if (problems.isEmpty()) {
        judged(wish, problems);
        secondTime(after, wish, problems);
      }
      copy = after;
    } catch (SymbolonException e) {
      problems.add(Finding.of(e, Level.PROBLEM));
    }
    steps.add(new TrialStep(mode, what, changes, problems));
    return problems.isEmpty();
  }

  private void readBack(Machine after, Proposal proposal, Mode mode, List<Finding> problems) {
    List<TlsPlace> before = server.read(copy, installation).places();
    Optional<TlsPlace> place =
        new PlacePairs(before, server.read(after, installation).places())
            .after(proposal.place(), Optional.empty());
    Mode found = place.map(TlsPlace::mode).orElse(Mode.CLEAR);
    if (found != mode) {
      problems.add(
          problem(
              place.map(one -> one.origin().toString()).orElse(installation.main().toString()),
              "What would be written is read back as "
                  + (found == Mode.CLEAR ? "clear text" : found.word())
                  + " and not as "
                  + mode.word()
                  + ".",
              "Compare the parts of the description for its modes, and what other settings files say"
                  + " of the same keys."));
    }
  }

  /**
   * As everything that is written is judged: whether the files that are named hold what they must.
   */
  private void judged(Wish wish, List<Finding> problems) {
    ServerTls.of(server, copy, installation, surveyor, clock)
        .plan(wish, List.of())
        .findings()
        .stream()
        .filter(one -> one.level() == Level.PROBLEM)
        // What is not on a disk has no rights yet.
        .filter(one -> !one.is(FindingKind.ACCOUNT_CANNOT_READ))
        .forEach(problems::add);
  }

  private void secondTime(Machine after, Wish wish, List<Finding> problems) {
    Proposal second = server.propose(after, installation, wish);
    second.changes().stream()
        .filter(one -> !one.isNothing())
        .forEach(
            one ->
                problems.add(
                    problem(
                        one.path().toString(),
                        "A second time, with everything as it is wanted, this file would change again.",
                        "Look which key is not found where it is written.")));
  }

  private static Finding problem(String where, String statement, String advice) {
    return Finding.of(FindingKind.SETTING_IGNORED, Level.PROBLEM, where, statement, advice);
  }
}
