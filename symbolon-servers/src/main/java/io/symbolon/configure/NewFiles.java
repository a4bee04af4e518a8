// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.server.Installation;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A server whose settings name files that were renewed, and whether it has the new ones.
 *
 * @param outcome whether it has them
 * @param says what it does with new files, as a sentence; empty where that is not known
 * @param finding what went wrong, where something did
 */
public record NewFiles(String server, Outcome outcome, String says, Optional<Finding> finding) {
  /** Whether a server has new files. */
  public enum Outcome {
    /** It has them. */
    TAKEN,
    /** It does not run, and reads them when it starts. */
    NOT_RUNNING,
    /** It has the old ones. */
    NOT_TAKEN
  }

  /**
   * Lets a server take them. What goes wrong is a finding: the files are where they belong anyway.
   *
   * @param home where its settings are; where it is usually found if that is not said
   * @return what came of it
   */
  public static NewFiles taken(Server server, Machine machine, Optional<Path> home) {
    return taken(server, machine, home, List.of());
  }

  /**
   * Lets a server take these files. One whose settings name none of them has not taken them,
   * whatever it was told.
   *
   * @param home where its settings are; where it is usually found if that is not said
   * @param files the files that are new
   * @return what came of it
   */
  public static NewFiles taken(
      Server server, Machine machine, Optional<Path> home, Collection<Path> files) {
    try {
      List<Installation> found =
          home.map(one -> List.of(server.at(machine, one))).orElseGet(() -> server.find(machine));
      if (found.size() != 1) {
        return not(
            server,
            "",
            found.isEmpty()
                ? "It was not found on this machine."
                : "It is there " + found.size() + " times.",
            "Say where its settings are: " + Input.HOME.mention("PATH"));
      }
      if (!files.isEmpty() && !names(server.read(machine, found.get(0)), files)) {
        return not(
            server,
            "",
            "Its settings name none of them, so that it goes on with its old ones.",
            "Give it the certificate; renewals reach it from then on: symbolon configure "
                + server.name()
                + " "
                + Input.CREDENTIAL.mention(VisibleText.of(files.iterator().next().toString())));
      }
      return taken(server, machine, server.reload(machine, found.get(0), false));
    } catch (SymbolonException e) {
      return not(server, "", e.inFull(), e.remedy().advice(Naming.MARKS));
    }
  }

  private static boolean names(Settings settings, Collection<Path> files) {
    Set<Path> real = files.stream().map(NewFiles::real).collect(Collectors.toSet());
    return settings.places().stream()
        .anyMatch(
            place ->
                place.files().stream().anyMatch(file -> real.contains(real(file.path())))
                    || !place.notUnderstood().isEmpty());
  }

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (IOException e) {
      return path.toAbsolutePath().normalize();
    }
  }

  private static NewFiles taken(Server server, Machine machine, Reload reload) {
    boolean byItself = reload.kind() == Reload.Kind.BY_ITSELF;
    if (!byItself && !reload.running()) {
      return new NewFiles(server.title(), Outcome.NOT_RUNNING, reload.says(), Optional.empty());
    }
    if (!byItself && reload.commands().isEmpty()) {
      return not(server, reload.says(), "No command is known for that.", "Restart it by hand.");
    }
    for (ServerCommand command : reload.commands()) {
      CommandResult result = machine.programs().run(command);
      if (!command.isGood(result)) {
        return not(
            server,
            reload.says(),
            "Its command failed: " + VisibleText.of(ServerWords.ended(command, result)),
            "Look at its log, mend it, and reload it by hand.");
      }
    }
    return new NewFiles(server.title(), Outcome.TAKEN, reload.says(), Optional.empty());
  }

  private static NewFiles not(Server server, String says, String seen, String advice) {
    return new NewFiles(
        server.title(),
        Outcome.NOT_TAKEN,
        says,
        Optional.of(
            Finding.of(
                FindingKind.NEW_FILES_NOT_TAKEN,
                Level.PROBLEM,
                server.title(),
                server.title() + " did not take the new files. " + seen,
                advice)));
  }
}
