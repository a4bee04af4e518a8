// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

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
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** WildFly, as a server that stands alone, with its standalone.xml. */
public final class Wildfly implements Server {
  private static final String MAIN = "standalone.xml";
  private static final Pattern PROCESS =
      Pattern.compile("\\S*java .*org\\.jboss\\.as\\.standalone.*");

  /** Made by the registry of servers. */
  public Wildfly() {}

  @Override
  public String name() {
    return "wildfly";
  }

  @Override
  public String title() {
    return "WildFly";
  }

  @Override
  public List<Installation> find(Machine machine) {
    List<Installation> found = new ArrayList<>();
    for (String pattern :
        List.of(
            "/opt/*wildfly*/standalone/configuration/" + MAIN,
            "/opt/*jboss*/standalone/configuration/" + MAIN,
            "/usr/share/*wildfly*/standalone/configuration/" + MAIN,
            "/var/lib/*wildfly*/standalone/configuration/" + MAIN,
            "/srv/*wildfly*/standalone/configuration/" + MAIN)) {
      machine.matching(machine.path(pattern).toString()).stream()
          .filter(Files::isRegularFile)
          .forEach(main -> found.add(installation(used(machine, main))));
    }
    return found;
  }

  @Override
  public Installation at(Machine machine, Path home) {
    if (Files.isRegularFile(home)) {
      return installation(home);
    }
    for (Path folder :
        List.of(
            home,
            home.resolve("configuration"),
            home.resolve("standalone").resolve("configuration"))) {
      Path main = folder.resolve(MAIN);
      if (Files.isRegularFile(main)) {
        return installation(used(machine, main));
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of WildFly were not found.",
        "There is no standalone.xml in "
            + VisibleText.of(home.toString())
            + ", nor in its folders configuration and standalone/configuration.",
        "Name WildFly's folder, or the file: " + Input.HOME.mention("PATH") + ".");
  }

  /** A server that runs says which of the files beside each other it was started with. */
  private static Path used(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    Optional<String> named =
        running(machine, absolute)
            .flatMap(
                process -> {
                  List<String> words = process.words();
                  for (int i = 0; i < words.size(); i++) {
                    String word = words.get(i);
                    if (word.equals("-c") && i + 1 < words.size()) {
                      return Optional.of(words.get(i + 1));
                    }
                    if (word.startsWith("--server-config=") || word.startsWith("-c=")) {
                      return Optional.of(word.substring(word.indexOf('=') + 1));
                    }
                  }
                  return Optional.empty();
                });
    return named
        .filter(one -> one.matches("[\\w.-]+"))
        .map(absolute::resolveSibling)
        .filter(Files::isRegularFile)
        .orElse(absolute);
  }

  private static Installation installation(Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    return new Installation(
        "wildfly",
        Optional.ofNullable(absolute.getParent()).orElse(absolute),
        absolute,
        Optional.empty());
  }

  private static Optional<RunningServer> running(Machine machine, Path main) {
    Path folder = Optional.ofNullable(main.getParent()).map(Path::getParent).orElse(null);
    if (machine.isWindows() || folder == null) {
      return Optional.empty();
    }
    String base = "-Djboss.server.base.dir=" + folder;
    String home = "-Djboss.home.dir=" + folder.getParent();
    return RunningServer.find(
        PROCESS,
        words ->
            words.contains(base)
                || (words.contains(home)
                    && words.stream()
                        .noneMatch(one -> one.startsWith("-Djboss.server.base.dir="))));
  }

  /** Whoever runs it writes its settings: they are his. */
  static Optional<String> account(Machine machine, Installation installation) {
    return machine.accountOf(installation.main());
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new WildflyReading(machine, installation).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new WildflyProposal(machine, installation, wish).proposal();
  }

  /** Its own check would start it, and write its settings anew. */
  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return Optional.empty();
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    String says =
        "WildFly reads its settings when it starts: restart it; connections end."
            + " Until then, change nothing through its management: it would write its settings as"
            + " they were.";
    Optional<RunningServer> process = running(machine, installation.main());
    return Reload.restart(process, says);
  }
}
