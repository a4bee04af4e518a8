// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.rehearse.ServerKind;
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
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** Programs on Spring Boot: a jar with settings beside it, or settings alone. */
public final class SpringBoot implements Server {
  private static final Pattern JAVA = Pattern.compile("(?:\\S*/)?java(?: .*)?");

  /** Made by the registry of servers. */
  public SpringBoot() {}

  @Override
  public String name() {
    return "spring-boot";
  }

  @Override
  public String title() {
    return "Spring Boot";
  }

  /** Its server is Tomcat, where nobody has chosen another one. */
  @Override
  public Optional<ServerKind> kind() {
    return ServerKind.named("tomcat"); // the embedded server by default
  }

  /** A program can be anywhere: it has to be named. */
  @Override
  public List<Installation> find(Machine machine) {
    return List.of();
  }

  @Override
  public Installation at(Machine machine, Path home) {
    Path absolute = home.toAbsolutePath().normalize();
    Path folder = Files.isDirectory(absolute) ? absolute : parent(absolute);
    boolean isJar = absolute.toString().endsWith(".jar");
    Optional<Path> jar = isJar ? Optional.of(absolute) : onlyJar(machine, folder);
    if (Files.isRegularFile(absolute) && !isJar) {
      boolean inConfig = String.valueOf(folder.getFileName()).equals("config");
      Path above = inConfig ? parent(folder) : folder;
      return new Installation("spring-boot", above, absolute, onlyJar(machine, above));
    }
    for (String name :
        List.of(
            "config/application.properties",
            "config/application.yaml",
            "config/application.yml",
            "application.properties",
            "application.yaml",
            "application.yml")) {
      if (Files.isRegularFile(folder.resolve(name))) {
        return new Installation("spring-boot", folder, folder.resolve(name), jar);
      }
    }
    if (jar.isPresent()) {
      return new Installation("spring-boot", folder, folder.resolve("application.properties"), jar);
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of a program on Spring Boot were not found.",
        "There is no application.properties, no application.yaml and no packaged jar in "
            + VisibleText.of(folder.toString())
            + ".",
        "Name the folder of the jar, or the settings file: " + Input.HOME.mention("PATH") + ".");
  }

  private static Path parent(Path path) {
    return Optional.ofNullable(path.getParent()).orElse(path);
  }

  private static Optional<Path> onlyJar(Machine machine, Path folder) {
    List<Path> jars =
        machine.files().list(folder).stream()
            .filter(path -> path.toString().endsWith(".jar"))
            .filter(path -> PackagedJar.of(path).isPresent())
            .toList();
    return jars.size() == 1 ? Optional.of(jars.get(0)) : Optional.empty();
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new SpringReading(
            installation, new SpringFiles(machine, installation), account(machine, installation))
        .settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new SpringProposal(
            machine,
            installation,
            new SpringFiles(machine, installation),
            wish,
            account(machine, installation))
        .proposal();
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return Optional.empty();
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    SpringFiles files = new SpringFiles(machine, installation);
    SpringReading reading = new SpringReading(installation, files, Optional.empty());
    boolean watched =
        !settings
            && reading
                .bundle("server")
                .flatMap(reading::bundlePrefix)
                .filter(below -> files.word(below + ".reload-on-update").equals("true"))
                .isPresent();
    if (machine.isWindows()) {
      return new Reload(
          watched ? Reload.Kind.BY_ITSELF : Reload.Kind.BY_HAND,
          List.of(),
          watched,
          watched
              ? "The program notices new files of its bundle by itself, after ten seconds of quiet."
              : "Restart the program, or the service that runs it: it reads settings when it starts.");
    }
    Optional<RunningServer> process = process(installation);
    List<ServerCommand> commands =
        process
            .flatMap(RunningServer::unit)
            .map(unit -> List.of(ServerCommand.of("systemctl", "restart", unit)))
            .orElse(List.of());
    return new Reload(
            watched ? Reload.Kind.BY_ITSELF : Reload.Kind.RESTART,
            watched ? List.of() : commands,
            process.isPresent() && (watched || !commands.isEmpty()),
            watched
                ? "The program notices new files of its bundle by itself, after ten seconds of quiet."
                : "Restart the program: it reads settings when it starts.")
        .withProcess(process);
  }

  private static Optional<RunningServer> process(Installation installation) {
    return RunningServer.find(JAVA, words -> isOurs(words, installation));
  }

  /** The program of that jar, or of the only one that is named by its folder. */
  private static boolean isOurs(List<String> words, Installation installation) {
    int at = words.indexOf("-jar");
    if (at < 0 || at + 1 >= words.size() || installation.program().isEmpty()) {
      return false;
    }
    Path named = Path.of(words.get(at + 1));
    return named.isAbsolute()
        ? named.normalize().equals(installation.program().get())
        : named.endsWith(installation.program().get().getFileName());
  }

  /** The account that it runs as, else the one whose folder it is. */
  private static Optional<String> account(Machine machine, Installation installation) {
    if (machine.isWindows()) {
      return Optional.empty();
    }
    return process(installation)
        .flatMap(RunningServer::account)
        .or(
            () -> {
              try {
                return Optional.of(Files.getOwner(installation.home()).getName());
              } catch (IOException | UnsupportedOperationException e) {
                return Optional.empty();
              }
            });
  }
}
