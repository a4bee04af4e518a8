// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.artemis;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** Artemis, with the broker.xml of an instance. */
public final class Artemis implements Server {
  private static final String MAIN = "broker.xml";
  private static final Pattern PROCESS = Pattern.compile("\\S*java .*artemis.*");

  /** Made by the registry of servers. */
  public Artemis() {}

  @Override
  public String name() {
    return "artemis";
  }

  @Override
  public String title() {
    return "Artemis";
  }

  @Override
  public List<Installation> find(Machine machine) {
    List<Installation> found = new ArrayList<>();
    for (String pattern :
        List.of(
            "/etc/artemis/broker.xml",
            "/var/lib/*artemis*/etc/broker.xml",
            "/var/lib/*artemis*/*/etc/broker.xml",
            "/opt/*artemis*/instances/*/etc/broker.xml",
            "/srv/*artemis*/etc/broker.xml")) {
      machine.matching(machine.path(pattern).toString()).stream()
          .filter(Files::isRegularFile)
          .forEach(main -> found.add(installation(main)));
    }
    return found;
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (Path main : List.of(home, home.resolve(MAIN), home.resolve("etc").resolve(MAIN))) {
      if (Files.isRegularFile(main)) {
        return installation(main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of Artemis were not found.",
        "There is no broker.xml in " + VisibleText.of(home.toString()) + ", nor in its folder etc.",
        "Name the folder of the broker's instance: " + Input.HOME.mention("PATH") + ".");
  }

  private static Installation installation(Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    return new Installation(
        "artemis",
        Optional.ofNullable(absolute.getParent()).orElse(absolute),
        absolute,
        Optional.empty());
  }

  /** Its instance belongs to whoever runs it. */
  static Optional<String> account(Machine machine, Installation installation) {
    return machine.accountOf(installation.main());
  }

  static Optional<Owner> owner(String account) {
    return account.equals(System.getProperty("user.name", ""))
        ? Optional.empty()
        : Optional.of(new Owner(account, Optional.empty()));
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new ArtemisReading(machine, installation).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new ArtemisProposal(machine, installation, wish).proposal();
  }

  /** It has none. */
  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return Optional.empty();
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    String says =
        "Artemis opens its acceptors when it starts. Restart it; connections end."
            + " With sslAutoReload=true at its acceptor, it notices new files by itself.";
    Path instance =
        Optional.ofNullable(installation.home().getParent()).orElse(installation.home());
    Optional<RunningServer> process =
        machine.isWindows()
            ? Optional.empty()
            : RunningServer.find(
                PROCESS, words -> words.stream().anyMatch(word -> isBelow(word, instance)));
    return Reload.restart(process, says);
  }

  /** Whether a word of a command line is a path of this instance, and not of one beside it. */
  private static boolean isBelow(String word, Path instance) {
    String path = word.substring(word.indexOf('=') + 1);
    return path.equals(instance.toString()) || path.startsWith(instance + "/");
  }
}
