// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.file.PendingFiles;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Proposal.Step.Order;
import io.symbolon.server.Reload;
import io.symbolon.server.TrialStart;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.stream.Collectors;

/**
 * Makes a change, step by step, and takes it back from any step on: files are written as one step
 * of their own and their folders held until the running server has answered, the server's own
 * programs are taken back by their opposites, and a server that was reloaded is reloaded again.
 */
final class Applying {
  private static final Duration ENDS = Duration.ofSeconds(60);

  private final ServerChange change;
  private final Reload how;
  private final List<Finding> findings = new ArrayList<>();
  private final Deque<Proposal.Step> done = new ArrayDeque<>();
  private final List<Path> left = new ArrayList<>();
  private Optional<CommandResult> check = Optional.empty();
  private Optional<CommandResult> reload = Optional.empty();
  private List<PlaceProbe.Answer> probes = List.of();
  private boolean listened; // whether somebody listened at the address before
  private boolean stopped = true; // where it was told to stop

  Applying(ServerChange change, Reload how) {
    this.change = change;
    this.how = how;
  }

  ChangeResult written(boolean thenReload) {
    if (!before()) {
      return back(Optional.empty(), false);
    }
    if (change.files().isEmpty()) {
      return onward(Optional.empty(), thenReload);
    }
    try (PendingFiles files = write()) {
      return onward(Optional.of(files), thenReload);
    }
  }

  private boolean before() {
    try {
      return steps(Order.BEFORE_FILES);
    } catch (RuntimeException e) {
      back(Optional.empty(), false);
      throw e;
    }
  }

  private PendingFiles write() {
    try {
      return change.write();
    } catch (RuntimeException e) {
      back(Optional.empty(), false); // what the server's programs did before
      throw e;
    }
  }

  private ChangeResult onward(Optional<PendingFiles> files, boolean thenReload) {
    try {
      if (!steps(Order.BEHIND_FILES) || !steps(Order.READS_FILES) || !checked()) {
        return back(files, false);
      }
      ChangeResult.End unseen =
          change.isNothing() ? ChangeResult.End.NOTHING : ChangeResult.End.WRITTEN;
      if (!thenReload) {
        return result(unseen, files);
      }
      if (change.isNothing() && isAsWantedAlready()) {
        return result(ChangeResult.End.RUNNING, files);
      }
      if (!how.running()) {
        notSeen();
        return result(unseen, files);
      }
      if (!reloaded() || !answered()) {
        return back(files, true);
      }
      if (probes.isEmpty()) {
        notSeen();
      }
      return result(probes.isEmpty() ? unseen : ChangeResult.End.RUNNING, files);
    } catch (RuntimeException e) {
      back(files, reload.isPresent());
      throw e;
    }
  }

  private CommandResult run(ServerCommand command) {
    return change.run(command);
  }

  /** What the server's own programs do, before the files are written or behind that. */
  private boolean steps(Order order) {
    for (Proposal.Step step : change.steps().stream().filter(s -> s.order() == order).toList()) {
      done.push(step);
      CommandResult result = run(step.command());
      if (!step.command().isGood(result)) {
        refused("The server's program failed to " + step.what(), step.command(), result);
        return false;
      }
    }
    return true;
  }

  private boolean checked() {
    Optional<OwnCheck> own = change.check();
    boolean took = done.stream().anyMatch(step -> step.order() == Order.READS_FILES);
    if (own.isEmpty() && took) {
      return true; // the server itself has read the new files
    }
    if (own.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.NO_OWN_CHECK,
              change.installation().main().toString(),
              change.title()
                  + "'s own check was not made: it has none, or no program of it was found in its usual"
                  + " places.",
              "Look whether it starts."));
      return true;
    }
    CommandResult result = run(own.get().command());
    check = Optional.of(result);
    if (result.end() == CommandResult.End.NOT_STARTED) {
      findings.add(
          Finding.of(
              FindingKind.NO_OWN_CHECK,
              change.installation().main().toString(),
              change.title()
                  + "'s own check was not made: "
                  + own.get().command().words().get(0)
                  + " can't be started.",
              "Run it where the server is installed."));
      return true;
    }
    if (!own.get().isPassed(result)) {
      refused(
          change.title() + "'s own check refuses the new settings", own.get().command(), result);
      return false;
    }
    return own.get().trial().map(this::started).orElse(true);
  }

  /** Whether a copy of the server starts. */
  private boolean started(TrialStart trial) {
    TrialRun.Outcome outcome = TrialRun.of(trial, this::run);
    if (outcome.failed().isPresent()) {
      refused(
          "A copy of " + change.title() + " with the new settings does not start",
          trial.start(outcome.folder()),
          outcome.failed().get());
      return false;
    }
    return true;
  }

  /** What is written and not seen is said, with what was found in its place. */
  private void notSeen() {
    boolean listens = change.probe().isListening();
    String where =
        change
            .probe()
            .endpoint()
            .map(end -> end.reachable() + ":" + end.port())
            .orElse("its address, which is not known");
    findings.add(
        Finding.of(
            FindingKind.NOT_SEEN_RUNNING,
            change.installation().main().toString(),
            listens
                ? "Somebody answers at "
                    + where
                    + ", and no running "
                    + change.title()
                    + " was found that could be told of the new settings: it still does what it"
                    + " did."
                : "The server does not run, or does not listen at " + where + ".",
            listens ? "Restart it by hand, and probe it." : "Start it, and probe it."));
  }

  /** Whether the process that was told to stop has ended: two of them would both answer. */
  private boolean ended() {
    Optional<ProcessHandle> old = how.ends().flatMap(ProcessHandle::of);
    if (old.isEmpty()) {
      return true;
    }
    try {
      var unused = old.get().onExit().get(ENDS.toSeconds(), TimeUnit.SECONDS);
      return true;
    } catch (TimeoutException e) {
      findings.add(
          Finding.of(
              FindingKind.SERVER_REFUSES,
              change.installation().main().toString(),
              change.title()
                  + " was told to stop, and its process "
                  + old.get().pid()
                  + " still runs after "
                  + ENDS.toSeconds()
                  + " seconds. It was not started a second time.",
              "Everything was put back. Stop that process, look whether the settings let it be"
                  + " stopped (a shutdown port that is off does not), and give the command again."));
      return false;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    } catch (ExecutionException e) {
      return true; // nobody can tell
    }
  }

  private boolean reloaded() {
    listened = change.probe().isListening();
    boolean first = true;
    for (ServerCommand command : how.commands()) {
      if (!first && !ended()) {
        stopped = false;
        return false;
      }
      first = false;
      CommandResult result = run(command);
      reload = Optional.of(result);
      if (!command.isGood(result)) {
        refused("The reload failed", command, result);
        return false;
      }
    }
    return true;
  }

  /**
   * Whether the running server was started with these very files and does what is wanted: a restart
   * would end its connections for nothing.
   */
  private boolean isAsWantedAlready() {
    boolean read =
        how.kind() == Reload.Kind.RESTART
            && how.since().isPresent()
            && change.changed().isBefore(how.since().get());
    if (!read || !change.probe().isListening()) {
      return false;
    }
    List<PlaceProbe.Answer> now = change.probe().withoutPatience().run();
    boolean good = !now.isEmpty() && now.stream().allMatch(PlaceProbe.Answer::isAsWanted);
    if (good) {
      probes = now;
    }
    return good;
  }

  private boolean answered() {
    probes = change.probe().run();
    boolean good = true;
    for (PlaceProbe.Answer answer : probes) {
      if (!answer.isAsWanted()) {
        findings.addAll(answer.findings());
        good = false;
      }
    }
    return good;
  }

  private void refused(String what, ServerCommand command, CommandResult result) {
    String seen = ServerWords.ended(command, result);
    findings.add(
        Finding.of(
            FindingKind.SERVER_REFUSES,
            change.installation().main().toString(),
            what + ": " + VisibleText.of(seen) + (seen.endsWith(".") ? "" : "."),
            "Everything was put back. Mend what it says, and give the command again."));
    ServerWords.explained(result.output(), change.installation().main().toString())
        .forEach(findings::add);
  }

  private ChangeResult back(Optional<PendingFiles> files, boolean again) {
    boolean whole = stepsBack(false);
    // Settings that a server keeps itself may name the new files: these go when nothing names them.
    boolean named =
        change.files().stream().anyMatch(one -> !one.settings() && one.before().isEmpty())
            && done.stream().anyMatch(step -> step.order() == Order.READS_FILES);
    boolean unnamed = !named || stepsBack(true);
    if (unnamed) {
      try {
        files.ifPresent(pending -> left.addAll(pending.takeBack()));
      } catch (SymbolonException e) {
        findings.add(Finding.of(e, Level.PROBLEM));
        whole = false;
      }
    } else {
      change.files().forEach(file -> stays(file.path()));
    }
    boolean others = named || stepsBack(true);
    whole = whole && unnamed && others && left.isEmpty();
    for (Path path : left) {
      findings.add(
          Finding.of(
              FindingKind.CHANGED,
              VisibleText.of(path.toString()),
              "Somebody else has changed this file since: it was not put back.",
              "Look at it. The earlier one is kept: symbolon undo."));
    }
    if (again && stopped) {
      for (ServerCommand command : how.commands()) {
        CommandResult result = run(command);
        if (!command.isGood(result)) {
          findings.add(notBack("The server could not be reloaded with the old settings", command));
        }
      }
      tellOld();
    }
    return result(
        whole ? ChangeResult.End.PUT_BACK : ChangeResult.End.PARTLY_BACK,
        unnamed ? Optional.empty() : files);
  }

  private void stays(Path file) {
    findings.add(
        Finding.of(
            FindingKind.CHANGED,
            VisibleText.of(file.toString()),
            "It stays: the settings of the server still name it, and without it the server does not"
                + " start.",
            "Take it away when the settings no longer name it."));
  }

  /** Whether all of them were taken back. */
  private boolean stepsBack(boolean behindFiles) {
    boolean all = true;
    for (Proposal.Step step : done) {
      if (behindFiles == (step.order() == Order.READS_FILES) && step.back().isPresent()) {
        ServerCommand command = step.back().get();
        if (!command.isGood(run(command))) {
          findings.add(notBack("This was done and was not undone: " + step.what(), command));
          all = false;
        }
      }
    }
    return all;
  }

  /** Whether the server answers again with its old settings. */
  private void tellOld() {
    if (listened && !change.probe().listensAgain()) {
      findings.add(
          Finding.of(
              FindingKind.NO_ANSWER,
              change.installation().main().toString(),
              "With its old settings, the server no longer listens.",
              "Look at the server's log, and start it."));
    }
  }

  private static Finding notBack(String what, ServerCommand command) {
    return Finding.of(
        FindingKind.SERVER_REFUSES,
        "",
        what + ".",
        "Do it by hand: "
            + (command.input().isEmpty() ? "" : "tell these lines, ")
            + command.input().stream().map(line -> line + "; ").collect(Collectors.joining())
            + (command.input().isEmpty() ? "" : "to ")
            + String.join(" ", command.line()));
  }

  private ChangeResult result(ChangeResult.End end, Optional<PendingFiles> files) {
    List<WrittenItem> written =
        end == ChangeResult.End.PUT_BACK
            ? List.of()
            : files.map(PendingFiles::written).orElse(List.of());
    return new ChangeResult(end, written, check, reload, probes, findings, left);
  }
}
