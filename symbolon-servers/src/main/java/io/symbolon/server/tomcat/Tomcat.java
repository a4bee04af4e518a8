// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

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
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/** Apache Tomcat, as Debian and its makers lay it out. */
public final class Tomcat implements Server {
  private static final String MAIN = "server.xml";
  private static final Duration RESTART_LIMIT = Duration.ofMinutes(2);

  /** A connector that does not start; a port that the running server holds is no fault. */
  private static final Pattern FAILED =
      Pattern.compile(
          "SEVERE[^\\n]*Failed to initialize component"
              + "(?!(?s:.{0,6000}?)(?:BindException|Address already in use))");

  /** Made by the registry of servers. */
  public Tomcat() {}

  @Override
  public String name() {
    return "tomcat";
  }

  @Override
  public String title() {
    return "Tomcat";
  }

  @Override
  public List<Installation> find(Machine machine) {
    List<Installation> found = new ArrayList<>();
    if (machine.isWindows()) {
      machine.matching("/Program Files/Apache Software Foundation/Tomcat*/conf/" + MAIN).stream()
          .map(main -> installation(machine, main))
          .forEach(found::add);
      return found;
    }
    for (String home :
        List.of(
            "/etc/tomcat11",
            "/etc/tomcat10",
            "/etc/tomcat9",
            "/opt/tomcat/conf",
            "/usr/share/tomcat/conf",
            "/usr/local/tomcat/conf")) {
      Path main = machine.path(home).resolve(MAIN);
      if (Files.isRegularFile(main)) {
        found.add(installation(machine, main));
      }
    }
    return found;
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (Path main : List.of(home, home.resolve(MAIN), home.resolve("conf").resolve(MAIN))) {
      if (Files.isRegularFile(main)) {
        return installation(machine, main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of Tomcat were not found.",
        "There is no server.xml in " + VisibleText.of(home.toString()) + ".",
        "Name the folder of this server (CATALINA_BASE), or the file itself: "
            + Input.HOME.mention("PATH")
            + ".");
  }

  private static Installation installation(Machine machine, Path main) {
    Path real;
    try {
      real = main.toRealPath();
    } catch (java.io.IOException e) {
      real = main.toAbsolutePath().normalize();
    }
    Path folder = Optional.ofNullable(real.getParent()).orElse(real);
    Path base = Optional.ofNullable(folder.getParent()).orElse(folder);
    String debian = String.valueOf(folder.getFileName());
    if (machine.isWindows()) {
      return new Installation("tomcat", folder, real, Optional.empty());
    }
    Optional<Path> program =
        Optional.of(base.resolve("bin/catalina.sh"))
            .filter(Files::isRegularFile)
            .or(() -> machine.first("/usr/share/" + debian + "/bin/catalina.sh"))
            .or(
                () ->
                    machine.first(
                        "/usr/share/tomcat11/bin/catalina.sh",
                        "/usr/share/tomcat10/bin/catalina.sh",
                        "/usr/share/tomcat9/bin/catalina.sh"));
    return new Installation("tomcat", folder, real, program);
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new TomcatReading(machine, new TomcatBase(machine, installation)).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new TomcatProposal(machine, installation, new TomcatBase(machine, installation), wish)
        .proposal();
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return installation
        .program()
        .map(
            program ->
                new OwnCheck(
                    command(new TomcatBase(machine, installation), program, "configtest"),
                    Optional.of(FAILED)));
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    TomcatBase base = new TomcatBase(machine, installation);
    if (machine.isWindows()) {
      return Reload.service(base.windowsService(), "Tomcat reads server.xml only when it starts.");
    }
    Pattern process = base.process();
    List<ServerCommand> commands = new ArrayList<>();
    boolean service =
        Files.isDirectory(machine.path("/run/systemd/system"))
            && base.folder().startsWith(machine.path("/etc"));
    if (service) {
      commands.add(
          ServerCommand.of("systemctl", "restart", String.valueOf(base.folder().getFileName()))
              .within(RESTART_LIMIT));
    } else if (installation.program().isPresent()) {
      Path program = installation.program().get();
      commands.add(command(base, program, "stop", "30"));
      commands.add(command(base, program, "start"));
    }
    return new Reload(
            Reload.Kind.RESTART,
            commands,
            RunningServer.isThere(process),
            "Tomcat reads server.xml only when it starts: it has to be restarted, which ends its"
                + " connections.")
        .withEnding(service ? Optional.empty() : RunningServer.number(process))
        .withProcess(base.running());
  }

  /** The program as the account of the server, with the folders that are meant. */
  private static ServerCommand command(TomcatBase base, Path program, String... what) {
    Path home = Optional.ofNullable(program.getParent()).map(Path::getParent).orElse(base.base());
    List<String> words = new ArrayList<>(List.of(program.toString()));
    words.addAll(List.of(what));
    Map<String, String> variables = new HashMap<>();
    variables.put("CATALINA_HOME", home.toString());
    variables.put("CATALINA_BASE", base.base().toString());
    base.java().ifPresent(java -> variables.put("JAVA_HOME", java.toString()));
    return base.account()
        .map(account -> ServerCommand.as(account, words))
        .orElseGet(() -> ServerCommand.of(words))
        .with(variables)
        .reading(List.of(base.base(), base.base().resolve("bin"), base.installation().main()))
        .within(RESTART_LIMIT);
  }
}
