// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.file.Owner;
import io.symbolon.join.JoinOptions;
import io.symbolon.server.ClientKind;
import io.symbolon.task.PasswordSource;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What is wanted of a program that opens connections.
 *
 * @param kind the kind of program
 * @param trust the files of the authorities by which it is to know servers
 * @param credential the files of what it is to show
 * @param server the files of what a server shows, to rehearse with
 */
record ClientJob(
    ClientKind kind,
    Optional<Path> home,
    List<Path> trust,
    List<Path> credential,
    List<Path> server,
    Optional<HostName> host,
    Optional<Integer> port,
    Optional<Path> place,
    Optional<String> site,
    Optional<Owner> owner,
    Optional<String> form,
    JoinOptions chains,
    boolean write,
    List<PasswordSource> unlock) {
  private static final List<String> OF_SERVERS =
      List.of(
          "client-trust",
          "client",
          "role",
          "mode",
          "redirect-from",
          "strict-transport",
          "protocols",
          "ciphers",
          "reload");

  static ClientJob of(ClientKind kind, GivenOptions given) {
    for (String option : OF_SERVERS) {
      if (given.has(option)) {
        throw Usage.wrong(
            "--" + option + " is for servers; " + kind.name() + " opens connections.",
            "Leave it out.");
      }
    }
    if (given.paths("trust").isEmpty()) {
      throw Usage.wrong(
          "No authority is given by which the client knows its server.",
          "Name the files of the server's authority: --trust FILE...");
    }
    if (given.hosts().size() > 1) {
      throw Usage.wrong("A client is set up for one server.", "Say --host once.");
    }
    return new ClientJob(
        kind,
        given.pathOf("home"),
        given.paths("trust"),
        given.paths("credential"),
        given.paths("server"),
        given.hosts().stream().findFirst(),
        ConfigureJob.port(given, "port"),
        given.pathOf("place"),
        given.value("site"),
        given.owner(),
        given.value("form"),
        given.chains(JoinOptions.standard()),
        given.has("write"),
        given.unlock());
  }
}
