// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.key.KeyKind;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which certificate is ordered, from whom, and where it goes.
 *
 * @param account how the account is found or made
 * @param hosts the hosts that it is for; none where a file says it
 * @param like a file with what is ordered again
 * @param proofs how control of the hosts is proven
 * @param kind the kind of the key, where it is said
 * @param destination where key and certificate go
 * @param format the format that was said, where one was
 * @param alias the alias in a keystore, where it is said
 * @param root the name of the root that the chain shall lead to
 * @param server the server that takes the new files, where one is named
 * @param home where the settings of that server are
 * @param result how the result is written
 */
record OrderJob(
    OrderAccount.Wish account,
    List<HostName> hosts,
    Optional<Path> like,
    ProofOptions proofs,
    Optional<KeyKind> kind,
    Destination destination,
    Optional<String> format,
    Optional<String> alias,
    Optional<String> root,
    Optional<Server> server,
    Optional<Path> home,
    ResultOptions result) {
  static OrderJob of(GivenOptions given) {
    Destination destination = Destination.of(given);
    if (!destination.target().holdsKeys()) {
      throw Usage.wrong(
          destination.shown() + " is not a file for a private key and its chain.",
          "Name a keystore or PEM file, such as --into ingest.p12.");
    }
    List<HostName> hosts = given.hosts();
    if (hosts.isEmpty() && !given.has("like")) {
      throw Usage.wrong("No host is given.", "Name each with --host NAME.");
    }
    if (given.has("home") && !given.has("reload")) {
      throw Usage.wrong("--home is given, and no server.", "Name it as well: --reload SERVER");
    }
    return new OrderJob(
        OrderAccount.Wish.of(given, directory(given)),
        hosts,
        given.pathOf("like"),
        ProofOptions.of(given),
        given.keyKind(),
        destination,
        given.value("as"),
        given.value("alias"),
        given.value("root"),
        given.value("reload").map(OrderJob::server),
        given.pathOf("home"),
        ResultOptions.of(given));
  }

  /** A server that nobody knows is refused before anything is ordered. */
  static Server server(String name) {
    return Servers.named(name)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no server '" + VisibleText.of(name) + "'.",
                    "See all of them: symbolon configure --list"));
  }

  static Optional<URI> directory(GivenOptions given) {
    return given.value("from").map(OrderJob::address);
  }

  private static URI address(String text) {
    try {
      URI url = new URI(text);
      if ("https".equals(url.getScheme()) && url.getHost() != null) {
        return url;
      }
    } catch (URISyntaxException e) {
      // told below
    }
    throw Usage.wrong(
        "'" + VisibleText.of(text) + "' is not the address of an authority's directory.",
        "It begins with https://; whoever runs the authority tells it.");
  }

  /** The same with the hosts that a file named. */
  OrderJob with(List<HostName> named, Optional<KeyKind> like) {
    return new OrderJob(
        account,
        named,
        Optional.empty(),
        proofs,
        kind.or(() -> like),
        destination,
        format,
        alias,
        root,
        server,
        home,
        result);
  }

  /** The sources of passwords that open what is there already. */
  List<SecretSource> unlock() {
    List<SecretSource> all = new ArrayList<>(account.unlock());
    result
        .seal()
        .filter(one -> one.kind().equals("file") || one.kind().equals("env"))
        .ifPresent(one -> all.add(new SecretSource("--unlock", one.kind(), one.name())));
    return all;
  }
}
