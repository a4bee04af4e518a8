// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Shell;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.server.CommandResult;
import io.symbolon.server.Installation;
import io.symbolon.server.Machine;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.ServerCommand;
import io.symbolon.server.Servers;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Lets a server take new files that its settings name already. */
final class ServerReload {
  private ServerReload() {}

  /**
   * What came of it.
   *
   * @param server the server
   * @param says what it does with new files
   * @param done whether it has them now
   * @param finding what went wrong
   */
  record Told(String server, String says, boolean done, Optional<Finding> finding) {}

  /** Refuses a server that nobody knows, before anything is ordered. */
  static Server known(String name) {
    return Servers.named(name)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no server '" + VisibleText.of(name) + "'.",
                    "See all of them: symbolon configure --list"));
  }

  static Told tell(String name, Optional<Path> home) {
    Server server = known(name);
    Machine machine = Machine.here();
    List<Installation> found =
        home.map(one -> List.of(server.at(machine, one))).orElseGet(() -> server.find(machine));
    if (found.size() != 1) {
      return new Told(
          server.title(),
          "",
          false,
          Optional.of(
              finding(
                  server.title(),
                  found.isEmpty()
                      ? server.title() + " was not found on this machine."
                      : server.title() + " is there " + found.size() + " times.",
                  "Say where its settings are: --home PATH")));
    }
    Reload reload = server.reload(machine, found.get(0), false);
    if (reload.kind() == Reload.Kind.BY_ITSELF) {
      return new Told(server.title(), reload.says(), true, Optional.empty());
    }
    if (reload.commands().isEmpty() || !reload.running()) {
      return new Told(
          server.title(),
          reload.says(),
          !reload.running(),
          reload.running()
              ? Optional.of(
                  finding(
                      server.title(),
                      "No command is known that lets the running " + server.title() + " take them.",
                      "Restart it by hand."))
              : Optional.empty());
    }
    for (ServerCommand command : reload.commands()) {
      CommandResult result = machine.programs().run(command);
      if (!command.isGood(result)) {
        return new Told(
            server.title(),
            reload.says(),
            false,
            Optional.of(
                finding(
                    server.title(),
                    server.title()
                        + " did not take the new files. Its command ended with "
                        + result.exitCode()
                        + ": "
                        + VisibleText.of(
                            result.output().strip().lines().findFirst().orElse("(no word)")),
                    "Look at its log, and give the command again: "
                        + Shell.POSIX.line(command.words()))));
      }
    }
    return new Told(server.title(), reload.says(), true, Optional.empty());
  }

  private static Finding finding(String where, String statement, String advice) {
    return Finding.of(FindingKind.NEW_FILES_NOT_TAKEN, Level.PROBLEM, where, statement, advice);
  }
}
