// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.PasswordOption;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.ServerChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.SymbolonException;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.task.order.AccountSource;
import io.symbolon.task.order.OrderJob;
import io.symbolon.task.order.Proofs;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.text.VisibleText;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** What is ordered, from whom, and how hosts are proven, as options say it. */
final class OrderChoice {
  static final String PROOFS =
      "How control of a host is proven: listen[=ADDRESS:PORT] (a file over HTTP, served here on port"
          + " 80; the default), folder=PATH (the file in a web server's"
          + " document folder), dns=SERVER[:PORT] (a record, with --dns-key FILE; wildcards need"
          + " it), tls[=ADDRESS:PORT] (a certificate, shown here on port 443), program=PATH or"
          + " dns-program=PATH (your own program: docs/automatic.md). May be given several times.";

  private OrderChoice() {}

  static OrderJob job(GivenOptions given) {
    boolean own = given.has("for") && !given.has("into");
    OrderJob.Builder job =
        OrderJob.of(
                account(given, directory(given)),
                given.hosts(),
                own ? inAccount(given) : DestinationChoice.of(given))
            .proofs(proofs(given));
    if (given.has("for")) {
      if (given.has("reload")) {
        throw Usage.wrong(
            "--for and --reload name a server.",
            "Leave --reload out: --for reloads the server that it configures.");
      }
      job.shownBy(ServerChoice.shown(given, server(given.value("for").orElseThrow())));
    } else {
      for (String option : List.of("site", "port", "mode", "client-trust")) {
        if (given.has(option)) {
          throw Usage.wrong(
              "--" + option + " says something of a server, and none is named.",
              "Name it: --for SERVER.");
        }
      }
    }
    given.paths("then").forEach(job::then);
    given.pathOf("like").ifPresent(job::like);
    given.keyKind().ifPresent(job::keyKind);
    given.value("as").map(DestinationChoice::ofWord).ifPresent(job::format);
    given.value("alias").ifPresent(job::alias);
    given.value("root").ifPresent(job::root);
    given.value("reload").map(OrderChoice::server).ifPresent(job::reload);
    if (!given.has("for")) {
      given.pathOf("home").ifPresent(job::home);
    }
    ResultOptions result = ResultChoice.of(given);
    boolean open = own && result.seal().isEmpty() && !result.unsealed();
    return job.result(open ? unsealed(result) : result).build();
  }

  /**
   * A server reads its copy without a password, so that this one in the account's folder is open.
   */
  private static ResultOptions unsealed(ResultOptions said) {
    return new ResultOptions(
        said.existing(),
        said.owner(),
        said.keyForm(),
        true,
        said.seal(),
        said.sealKey(),
        said.newPassword(),
        said.protection());
  }

  private static Destination inAccount(GivenOptions given) {
    if (given.hosts().isEmpty()) {
      throw Usage.wrong("No output file is given.", "Use --into FILE, such as --into ingest.pem.");
    }
    Path folder = given.pathOf("account").orElse(Path.of("account"));
    String name = FileNames.safe(given.hosts().get(0).toString());
    return Destination.of(folder.resolve(name + ".pem"));
  }

  static AccountSource account(GivenOptions given, Optional<URI> directory) {
    Path folder =
        given
            .pathOf("account")
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "No folder for the account is given.",
                        "Use --account FOLDER; it is made where there is none."));
    return new AccountSource(
        folder,
        directory,
        given.paths("trust"),
        given.values("contact").stream()
            .map(one -> one.startsWith("mailto:") ? one : "mailto:" + one)
            .toList(),
        given.has("agree"),
        given.value("bind-id"),
        given.value("bind-key").map(one -> PasswordOption.known("--bind-key", one)),
        given.seal("seal-account"),
        given.unlock());
  }

  static Proofs proofs(GivenOptions given) {
    return new Proofs(
        given.values("proof").stream().map(OrderChoice::way).toList(), given.pathOf("dns-key"));
  }

  private static ProofWay way(String text) {
    try {
      return ProofWay.parse(text);
    } catch (SymbolonException e) {
      throw Usage.wrong(
          "There is no proof '" + VisibleText.of(text) + "'.",
          "Say listen, folder=PATH, dns=SERVER, tls, program=PATH or dns-program=PATH.");
    }
  }

  /** A server that nobody knows is refused before anything is ordered. */
  private static Server server(String name) {
    return Servers.named(name)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "There is no server '" + VisibleText.of(name) + "'.",
                    "See all of them: symbolon configure --list"));
  }

  static Optional<URI> directory(GivenOptions given) {
    return given.value("from").map(OrderChoice::address);
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
}
