// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

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
import io.symbolon.server.text.SettingsFiles;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Apache httpd, as Debian and its makers lay it out. */
public final class Httpd implements Server {
  private static final Pattern PROCESS = Pattern.compile("(?:\\S*/)?(?:apache2|httpd)(?: .*)?");
  private static final String DEBIAN = "apache2.conf";

  /** Made by the registry of servers. */
  public Httpd() {}

  @Override
  public String name() {
    return "httpd";
  }

  @Override
  public String title() {
    return "Apache httpd";
  }

  @Override
  public List<Installation> find(Machine machine) {
    if (machine.isWindows()) {
      List<Path> found = new ArrayList<>(machine.matching("/Apache*/conf/httpd.conf"));
      found.addAll(machine.matching("/Program Files/Apache*/conf/httpd.conf"));
      return found.stream().map(main -> installation(machine, main)).toList();
    }
    return machine
        .first(
            "/etc/apache2/apache2.conf",
            "/etc/httpd/conf/httpd.conf",
            "/etc/apache2/httpd.conf",
            "/usr/local/apache2/conf/httpd.conf",
            "/usr/local/etc/apache24/httpd.conf")
        .map(main -> List.of(installation(machine, main)))
        .orElse(List.of());
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (String name : List.of("", DEBIAN, "httpd.conf", "conf/httpd.conf")) {
      Path main = name.isEmpty() ? home : home.resolve(name);
      if (Files.isRegularFile(main)) {
        return installation(machine, main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of Apache httpd were not found.",
        "There is no apache2.conf and no httpd.conf in " + VisibleText.of(home.toString()) + ".",
        "Name its folder, or the file itself: " + Input.HOME.mention("PATH") + ".");
  }

  private static Installation installation(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    Path folder = Optional.ofNullable(absolute.getParent()).orElse(absolute);
    Path above = Optional.ofNullable(folder.getParent()).orElse(folder);
    return new Installation(
        "httpd",
        folder,
        absolute,
        machine.isWindows()
            ? Optional.of(above.resolve("bin/httpd.exe")).filter(Files::isRegularFile)
            : machine.first(
                "/usr/sbin/apache2",
                "/usr/sbin/httpd",
                "/usr/local/apache2/bin/httpd",
                "/usr/local/sbin/httpd"));
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new HttpdReading(machine, installation, HttpdTree.read(machine, installation.main()))
        .settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new HttpdProposal(
            machine, installation, HttpdTree.read(machine, installation.main()), wish)
        .proposal();
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return installation
        .program()
        .map(
            program ->
                new OwnCheck(
                    command(machine, installation, "-t"),
                    Optional.empty(),
                    machine.isWindows()
                        ? Optional.empty()
                        : Optional.of(
                            new HttpdTrial(
                                program.toString(),
                                HttpdTree.read(machine, installation.main())))));
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    if (machine.isWindows()) {
      return Reload.service("Apache2.4", "httpd reads its settings when it starts.");
    }
    boolean running = RunningServer.find(PROCESS, words -> isOurs(words, installation)).isPresent();
    return new Reload(
        Reload.Kind.RELOAD,
        installation.program().isPresent()
            ? List.of(command(machine, installation, "-k", "graceful"))
            : List.of(),
        running,
        "httpd takes new files without losing a connection. With files that do not fit it ends.");
  }

  /** Debian's own script gives the program its environment. */
  private static ServerCommand command(Machine machine, Installation installation, String... what) {
    Optional<Path> script = machine.first("/usr/sbin/apache2ctl");
    List<Path> files =
        SettingsFiles.judged(
            installation.main(),
            () -> HttpdTree.read(machine, installation.main()).files().paths());
    List<String> words = new ArrayList<>();
    if (isDebian(installation) && script.isPresent()) {
      words.add(script.get().toString());
      words.add(what[what.length - 1].equals("-t") ? "configtest" : what[what.length - 1]);
      return ServerCommand.of(words)
          .with(Map.of("APACHE_CONFDIR", installation.home().toString()))
          .reading(
              Stream.concat(
                      Stream.of(installation.home(), installation.home().resolve("envvars")),
                      files.stream())
                  .toList());
    } else {
      words.add(installation.program().map(Path::toString).orElse("httpd"));
      words.addAll(List.of("-f", installation.main().toString()));
      words.addAll(List.of(what));
    }
    return ServerCommand.of(words).reading(files);
  }

  private static boolean isDebian(Installation installation) {
    return installation.main().endsWith(DEBIAN)
        && Files.isRegularFile(installation.home().resolve("envvars"));
  }

  private static boolean isOurs(List<String> words, Installation installation) {
    Optional<String> file = after(words, "-f");
    Optional<String> folder = after(words, "-d");
    Path main = installation.main();
    if (file.isPresent()) {
      Path given = Path.of(file.get());
      return given.equals(main)
          || folder.map(f -> Path.of(f).resolve(given)).equals(Optional.of(main));
    }
    return folder.isPresent()
        ? Path.of(folder.get()).equals(installation.home())
        : main.startsWith("/etc") || main.startsWith("/usr/local");
  }

  private static Optional<String> after(List<String> words, String option) {
    int at = words.indexOf(option);
    return at >= 0 && at + 1 < words.size() ? Optional.of(words.get(at + 1)) : Optional.empty();
  }
}
