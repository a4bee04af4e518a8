// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** HAProxy, with its one settings file. */
public final class Haproxy implements Server {
  private static final String MAIN = "haproxy.cfg";
  private static final Pattern PROCESS = Pattern.compile("(?:\\S*/)?haproxy(?: .*)?");

  /** Made by the registry of servers. */
  public Haproxy() {}

  @Override
  public String name() {
    return "haproxy";
  }

  @Override
  public String title() {
    return "HAProxy";
  }

  @Override
  public List<Installation> find(Machine machine) {
    return machine
        .first("/etc/haproxy/" + MAIN, "/usr/local/etc/haproxy/" + MAIN, "/usr/local/etc/" + MAIN)
        .map(main -> List.of(installation(machine, main)))
        .orElse(List.of());
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (Path main : List.of(home, home.resolve(MAIN))) {
      if (Files.isRegularFile(main)) {
        return installation(machine, main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of HAProxy were not found.",
        "There is no haproxy.cfg in " + VisibleText.of(home.toString()) + ".",
        "Name the file: " + Input.HOME.mention("PATH") + ".");
  }

  private static Installation installation(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    return new Installation(
        "haproxy",
        Optional.ofNullable(absolute.getParent()).orElse(absolute),
        absolute,
        machine.first("/usr/sbin/haproxy", "/usr/local/sbin/haproxy"));
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new HaproxyReading(machine, installation).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new HaproxyProposal(machine, installation, wish).proposal();
  }

  /** It loads all files: the best check of all. */
  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return installation
        .program()
        .map(
            program ->
                new OwnCheck(
                    ServerCommand.of(program.toString(), "-c", "-f", installation.main().toString())
                        .reading(List.of(installation.main())),
                    Optional.empty()));
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    String says = "HAProxy's master starts new workers; connections of the old ones go on.";
    Optional<RunningServer> process =
        machine.isWindows()
            ? Optional.empty()
            : RunningServer.find(
                PROCESS,
                words ->
                    words.contains(installation.main().toString())
                        && (words.contains("-Ws") || words.contains("-W")));
    List<ServerCommand> commands =
        process
            .map(
                one ->
                    List.of(
                        one.unit()
                            .map(unit -> ServerCommand.of("systemctl", "reload", unit))
                            .orElseGet(
                                () -> ServerCommand.of("kill", "-USR2", String.valueOf(one.id())))))
            .orElse(List.of());
    return new Reload(Reload.Kind.RELOAD, commands, process.isPresent(), says);
  }
}
