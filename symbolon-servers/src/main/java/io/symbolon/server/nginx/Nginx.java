// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.text.SettingsFiles;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** nginx, as Debian and its makers lay it out. */
public final class Nginx implements Server {
  private static final Pattern MASTER = Pattern.compile("nginx: master process (.*)");

  /** Made by the registry of servers. */
  public Nginx() {}

  @Override
  public String name() {
    return "nginx";
  }

  @Override
  public String title() {
    return "nginx";
  }

  @Override
  public List<Installation> find(Machine machine) {
    if (machine.isWindows()) {
      return machine.matching("/nginx*/conf/nginx.conf").stream()
          .map(main -> installation(machine, main))
          .toList();
    }
    return machine
        .first(
            "/etc/nginx/nginx.conf",
            "/usr/local/nginx/conf/nginx.conf",
            "/usr/local/etc/nginx/nginx.conf")
        .map(main -> List.of(installation(machine, main)))
        .orElse(List.of());
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (String name : List.of("", "nginx.conf", "conf/nginx.conf", "etc/nginx/nginx.conf")) {
      Path main = name.isEmpty() ? home : home.resolve(name);
      if (Files.isRegularFile(main)) {
        return installation(machine, main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of nginx were not found.",
        "There is no nginx.conf in " + VisibleText.of(home.toString()) + ".",
        "Name its folder, or the file itself: " + Input.HOME.mention("PATH") + ".");
  }

  private static Installation installation(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    Path folder = Optional.ofNullable(absolute.getParent()).orElse(absolute);
    Path above = Optional.ofNullable(folder.getParent()).orElse(folder);
    Optional<Path> windows =
        Optional.of(above.resolve("nginx.exe"))
            .filter(program -> machine.isWindows() && Files.isRegularFile(program));
    return new Installation(
        "nginx",
        folder,
        absolute,
        machine.isWindows()
            ? windows
            : machine.first(
                "/usr/sbin/nginx", "/usr/local/nginx/sbin/nginx", "/usr/local/sbin/nginx"));
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new NginxReading(machine, installation, NginxTree.read(machine, installation.main()))
        .settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    NginxTree tree = NginxTree.read(machine, installation.main());
    Optional<FileChange> site =
        ServerBlock.in(tree).isEmpty()
            ? NginxSite.of(machine, tree, installation.main(), wish)
            : Optional.empty();
    if (site.isEmpty()) {
      return new NginxProposal(machine, installation, tree, wish).proposal();
    }
    Machine view = machine.with(List.of(site.get()));
    NginxTree with = NginxTree.read(view, installation.main());
    return NginxSite.made(
        new NginxProposal(view, installation, with, wish).proposal(), site.get().path());
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return installation
        .program()
        .map(
            program ->
                new OwnCheck(
                    machine.isWindows()
                        ? windows(installation, "-t")
                        : command(machine, installation, "-t"),
                    Optional.empty()));
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    if (machine.isWindows()) {
      return new Reload(
          Reload.Kind.BY_HAND,
          installation.program().isPresent()
              ? List.of(windows(installation, "-s", "reload"))
              : List.of(),
          false,
          "nginx takes new files without losing a connection. If it runs as a service, give the"
              + " command as that service's account.");
    }
    boolean running = master(installation).isPresent();
    return new Reload(
        Reload.Kind.RELOAD,
        installation.program().isPresent()
            ? List.of(command(machine, installation, "-s", "reload"))
            : List.of(),
        running,
        "nginx takes new files without losing a connection.");
  }

  /** There the program looks for everything below the folder that it is given. */
  private static ServerCommand windows(Installation installation, String... what) {
    Path program = installation.program().orElseThrow();
    List<String> words = new ArrayList<>(List.of(program.toString()));
    Optional.ofNullable(program.getParent())
        .ifPresent(folder -> words.addAll(List.of("-p", folder.toString())));
    words.addAll(List.of("-c", installation.main().toString()));
    words.addAll(List.of(what));
    return ServerCommand.of(words);
  }

  /** The program with what the running one was started with, so that both mean the same files. */
  private static ServerCommand command(Machine machine, Installation installation, String... what) {
    List<String> words = new ArrayList<>();
    words.add(installation.program().map(Path::toString).orElse("nginx"));
    Optional<RunningServer> master = master(installation);
    if (master.isPresent()) {
      words.addAll(kept(master.get()));
    } else {
      words.addAll(List.of("-c", installation.main().toString()));
    }
    words.addAll(List.of(what));
    return ServerCommand.of(words)
        .reading(
            SettingsFiles.judged(
                installation.main(), () -> NginxTree.read(machine, installation.main()).files()));
  }

  /** Where the files are that the running one was started with; where others could be, are not. */
  private static List<String> kept(RunningServer master) {
    List<String> given = master.words();
    List<String> words = new ArrayList<>();
    for (int i = 1; i + 1 < given.size(); i++) {
      String option = given.get(i);
      if (List.of("-c", "-p", "-e").contains(option)) {
        master
            .confirmed(given.get(++i))
            .ifPresent(path -> words.addAll(List.of(option, path.toString())));
      }
    }
    return words;
  }

  private static Optional<RunningServer> master(Installation installation) {
    return RunningServer.find(MASTER, words -> isOurs(words, installation));
  }

  private static boolean isOurs(List<String> words, Installation installation) {
    int at = words.indexOf("-c");
    String main = at >= 0 && at + 1 < words.size() ? words.get(at + 1) : "/etc/nginx/nginx.conf";
    return Path.of(main).toAbsolutePath().normalize().equals(installation.main());
  }
}
