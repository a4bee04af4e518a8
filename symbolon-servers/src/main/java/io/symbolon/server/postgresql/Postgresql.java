// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** PostgreSQL, as Debian and its makers lay it out. */
public final class Postgresql implements Server {
  private static final String MAIN = "postgresql.conf";

  /** Made by the registry of servers. */
  public Postgresql() {}

  @Override
  public String name() {
    return "postgresql";
  }

  @Override
  public String title() {
    return "PostgreSQL";
  }

  @Override
  public boolean hasRoles() {
    return true;
  }

  @Override
  public List<Installation> find(Machine machine) {
    List<Installation> found = new ArrayList<>();
    FileView files = machine.files();
    if (machine.isWindows()) {
      machine.matching("/Program Files/PostgreSQL/*/data/" + MAIN).stream()
          .map(main -> installation(machine, main))
          .forEach(found::add);
      return found;
    }
    for (Path version : files.list(machine.path("/etc/postgresql"))) {
      for (Path cluster : Files.isDirectory(version) ? files.list(version) : List.<Path>of()) {
        if (Files.isRegularFile(cluster.resolve(MAIN))) {
          found.add(installation(machine, cluster.resolve(MAIN)));
        }
      }
    }
    for (String data : List.of("/var/lib/pgsql/data", "/var/lib/postgresql/data")) {
      if (Files.isRegularFile(machine.path(data).resolve(MAIN))) {
        found.add(installation(machine, machine.path(data).resolve(MAIN)));
      }
    }
    return found;
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
        "The settings of PostgreSQL were not found.",
        "There is no postgresql.conf in " + VisibleText.of(home.toString()) + ".",
        "Name the cluster's folder, or the file itself: " + Input.HOME.mention("PATH") + ".");
  }

  private static Installation installation(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    Path home = Optional.ofNullable(absolute.getParent()).orElse(absolute);
    return new Installation("postgresql", home, absolute, program(machine, home));
  }

  /** The program of the cluster's own version, else the newest. */
  private static Optional<Path> program(Machine machine, Path home) {
    Path folder = home.getParent();
    String version = folder == null ? "" : String.valueOf(folder.getFileName());
    Optional<Path> own = machine.first("/usr/lib/postgresql/" + version + "/bin/postgres");
    if (version.matches("\\d+") && own.isPresent()) {
      return own;
    }
    return machine.files().list(machine.path("/usr/lib/postgresql")).stream()
        .max(Comparator.comparing(path -> String.valueOf(path.getFileName())))
        .map(path -> path.resolve("bin/postgres"))
        .filter(Files::isRegularFile)
        .or(() -> machine.first("/usr/bin/postgres", "/usr/local/pgsql/bin/postgres"));
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new ClusterReading(installation, new Cluster(machine, installation.main())).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new ClusterProposal(
            machine, installation, new Cluster(machine, installation.main()), wish)
        .proposal();
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    if (machine.isWindows()) {
      return Optional.empty(); // the program refuses to run for an administrator
    }
    Cluster cluster = new Cluster(machine, installation.main());
    return installation
        .program()
        .map(
            program ->
                new OwnCheck(
                    as(
                            cluster.account(),
                            program.toString(),
                            "-D",
                            cluster.data().toString(),
                            "-c",
                            "config_file=" + installation.main(),
                            "-C",
                            "ssl_cert_file")
                        .reading(List.of(cluster.data(), installation.main())),
                    Optional.empty()));
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    Cluster cluster = new Cluster(machine, installation.main());
    Path data = cluster.data();
    if (machine.isWindows()) {
      String version = cluster.version().map(String::valueOf).orElse("VERSION");
      return Reload.service(
          "postgresql-x64-" + version, "PostgreSQL takes new files for new connections.");
    }
    boolean running = machine.files().exists(data.resolve("postmaster.pid"));
    List<ServerCommand> commands =
        installation
            .program()
            .map(program -> program.resolveSibling("pg_ctl"))
            .map(
                control ->
                    List.of(
                        as(cluster.account(), control.toString(), "reload", "-D", data.toString())
                            .reading(List.of(data))))
            .orElse(List.of());
    return new Reload(
        Reload.Kind.RELOAD,
        commands,
        running,
        "PostgreSQL takes new files for new connections. Its command says it succeeded even where"
            + " the server refused them: probe it afterwards.");
  }

  /** The server's programs do not run as root. */
  private static ServerCommand as(String account, String... words) {
    return ServerCommand.as(account, List.of(words));
  }
}
