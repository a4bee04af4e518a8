// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.openldap;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** OpenLDAP, with its settings in the directory. */
public final class Openldap implements Server {
  private static final String FOLDER = "slapd.d";
  private static final String MAIN = "cn=config.ldif";

  /** Made by the registry of servers. */
  public Openldap() {}

  @Override
  public String name() {
    return "openldap";
  }

  @Override
  public String title() {
    return "OpenLDAP";
  }

  @Override
  public boolean keepsItsSettings() {
    return true;
  }

  @Override
  public List<Installation> find(Machine machine) {
    return machine
        .first("/etc/ldap/" + FOLDER + "/" + MAIN, "/etc/openldap/" + FOLDER + "/" + MAIN)
        .map(main -> List.of(installation(machine, main)))
        .orElse(List.of());
  }

  @Override
  public Installation at(Machine machine, Path home) {
    for (Path main : List.of(home, home.resolve(MAIN), home.resolve(FOLDER).resolve(MAIN))) {
      if (Files.isRegularFile(main)) {
        return installation(machine, main);
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of OpenLDAP were not found.",
        "There is no cn=config.ldif in "
            + VisibleText.of(home.toString())
            + ", nor in its folder slapd.d. Only its own account and root may look into that.",
        "Name the folder that slapd.d is in: "
            + Input.HOME.mention("PATH")
            + ". A slapd.conf is not read: slaptest -f"
            + " slapd.conf -F slapd.d turns it into such a folder.");
  }

  private static Installation installation(Machine machine, Path main) {
    Path absolute = main.toAbsolutePath().normalize();
    Path folder = Optional.ofNullable(absolute.getParent()).orElse(absolute);
    return new Installation(
        "openldap",
        Optional.ofNullable(folder.getParent()).orElse(folder),
        absolute,
        machine.first("/usr/sbin/slapd", "/usr/libexec/slapd"));
  }

  /** The folder of its settings belongs to the account that it runs as. */
  static Optional<String> account(Machine machine, Installation installation) {
    return machine.accountOf(installation.main());
  }

  /** Debian builds it on a TLS library whose cipher suites are chosen by priority strings. */
  static boolean hasPriorityStrings(Machine machine) {
    return machine.first("/etc/debian_version").isPresent();
  }

  /** A version as its settings count them: from SSL 3.0, which is 3.0. */
  static String counted(ProtocolVersion version) {
    return "3." + List.of(ProtocolVersion.values()).indexOf(version);
  }

  static ServerCommand asking(String socket) {
    return ServerCommand.of(
        "ldapsearch",
        "-Q",
        "-LLL",
        "-Y",
        "EXTERNAL",
        "-H",
        socket,
        "-s",
        "base",
        "-b",
        "cn=config",
        "entryUUID");
  }

  static ServerCommand modifying(String socket, String... more) {
    List<String> words =
        new ArrayList<>(List.of("ldapmodify", "-Q", "-Y", "EXTERNAL", "-H", socket));
    words.addAll(List.of(more));
    return ServerCommand.of(words);
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return new OpenldapReading(machine, installation).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return new OpenldapProposal(machine, installation, wish).proposal();
  }

  /** None of its checks looks at TLS; the change itself is refused where it does not fit. */
  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return Optional.empty();
  }

  /** The same values again let it read the files again. */
  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    boolean running = LdapServices.process(machine, installation).isPresent();
    if (settings) {
      return new Reload(
          Reload.Kind.BY_ITSELF,
          List.of(),
          true,
          "OpenLDAP took its new settings when they were changed. New connections use them.");
    }
    OpenldapReading reading = new OpenldapReading(machine, installation);
    Map<String, Optional<String>> again = new LinkedHashMap<>();
    for (String name :
        List.of(
            "olcTLSCertificateFile",
            "olcTLSCertificateKeyFile",
            "olcTLSCACertificateFile",
            "olcTLSCRLFile")) {
      reading.entry().text(name).ifPresent(value -> again.put(name, Optional.of(value)));
    }
    return new Reload(
        Reload.Kind.RELOAD,
        List.of(OpenldapProposal.modify(reading.services().socket(), again)),
        running,
        "OpenLDAP reads the files again when it is told the same settings once more. Connections"
            + " stay.");
  }
}
