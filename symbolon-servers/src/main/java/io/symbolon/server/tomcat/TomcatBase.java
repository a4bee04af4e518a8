// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlText;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.text.Placeholders;
import io.symbolon.server.text.SettingsFiles;
import java.io.IOException;
import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The settings of a Tomcat: server.xml, web.xml, and the properties that they may name. */
final class TomcatBase {

  private static final Pattern NUMBER = Pattern.compile("[0-9]+");

  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final XmlText.Element server;
  private final Properties properties = new Properties();
  private final Path folder;
  private final Path base;

  TomcatBase(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "Tomcat");
    this.server = XmlText.read(files.get(installation.main()));
    this.folder = installation.home();
    this.base = base(machine, folder);
    machine
        .files()
        .read(folder.resolve("catalina.properties"))
        .map(read -> SourceText.of(folder.resolve("catalina.properties"), read.octets()).text())
        .ifPresent(this::load);
    properties.setProperty("catalina.base", base.toString());
  }

  private void load(String text) {
    try {
      properties.load(new StringReader(text));
    } catch (IOException | IllegalArgumentException e) {
      properties.clear(); // then no value of it is known
    }
  }

  /** Debian keeps the settings elsewhere and links to them. */
  private static Path base(Machine machine, Path folder) {
    Path debian = machine.path("/var/lib").resolve(String.valueOf(folder.getFileName()));
    if (Files.isDirectory(debian.resolve("conf")) && folder.startsWith(machine.path("/etc"))) {
      return debian;
    }
    return Optional.ofNullable(folder.getParent()).orElse(folder);
  }

  Installation installation() {
    return installation;
  }

  Path folder() {
    return folder;
  }

  Path base() {
    return base;
  }

  SettingsFiles files() {
    return files;
  }

  SourceText source() {
    return server.source();
  }

  /** The connectors for HTTP, in order. */
  List<XmlText.Element> connectors() {
    List<XmlText.Element> connectors = new ArrayList<>();
    for (XmlText.Element service : server.children("Service")) {
      service.children("Connector").stream()
          .filter(
              one ->
                  !one.value("protocol", "HTTP/1.1")
                      .toUpperCase(java.util.Locale.ROOT)
                      .contains("AJP"))
          .forEach(connectors::add);
    }
    return connectors;
  }

  Optional<XmlText.Element> service() {
    return server.children("Service").stream().findFirst();
  }

  /** A value with what the properties say in the place of names; nothing where one is not known. */
  Optional<String> resolved(String value) {
    return Placeholders.of(Placeholders.Syntax.SHELL, this::property).resolved(value);
  }

  /** A property of catalina.properties, or one that the running process was given. */
  private Optional<String> property(String name) {
    return Optional.ofNullable(properties.getProperty(name))
        .or(() -> running().flatMap(process -> process.property(name)))
        .or(
            () ->
                name.equals("catalina.home") && Files.exists(base.resolve("bin/catalina.sh"))
                    ? Optional.of(base.toString())
                    : Optional.empty());
  }

  /** Names of files begin at the base, where they are not absolute. */
  Path path(String text) {
    return machine.below(base, text);
  }

  /** What its service is usually called on a Windows: by the number in the name of its folder. */
  String windowsService() {
    Matcher number = NUMBER.matcher(String.valueOf(base.getFileName()));
    return "Tomcat" + (number.find() ? number.group() : "10");
  }

  /** How the title of its process looks. */
  Pattern process() {
    return Pattern.compile(
        ".*-Dcatalina\\.base=" + Pattern.quote(base.toString()) + " .*Bootstrap.*");
  }

  Optional<RunningServer> running() {
    return RunningServer.find(process(), words -> true);
  }

  /**
   * The account that the server runs as: that of its process; else the one that controls its
   * folder, or, where that is root's, what it writes to. Nothing where that is not one account.
   */
  Optional<String> account() {
    Optional<String> running = running().flatMap(RunningServer::account);
    if (running.isPresent()) {
      return running;
    }
    Optional<String> whole = machine.accountOf(base);
    if (!whole.equals(Optional.of("root"))) {
      return whole;
    }
    for (String own : List.of("work", "logs")) {
      if (Files.exists(base.resolve(own))) {
        return machine.accountOf(base.resolve(own));
      }
    }
    return Optional.of("tomcat");
  }

  /** The Java that it runs with; that of this process where it does not run. */
  Optional<Path> java() {
    Optional<Path> running =
        running()
            .flatMap(RunningServer::program)
            .filter(java -> java.endsWith(Path.of("bin", "java")))
            .map(java -> java.resolve("../..").normalize());
    return running.or(
        () ->
            Optional.ofNullable(System.getProperty("java.home"))
                .map(Path::of)
                .filter(home -> Files.isExecutable(home.resolve("bin/java"))));
  }

  Optional<WebXml> webXml() {
    return files.find(folder.resolve("web.xml")).map(WebXml::new);
  }
}
