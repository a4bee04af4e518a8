// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.ServerReport;
import io.symbolon.describe.DescribedServer;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientKinds;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.task.configure.ChangeReport;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.OverviewJob;
import io.symbolon.task.configure.OverviewReport;
import io.symbolon.task.configure.PlannedChange;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** {@code symbolon configure [SERVER]}. */
public final class ConfigureCommand {
  private ConfigureCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .perhapsOne(
            "SERVER",
            "Which server, or which client; without it, all servers that are found on this"
                + " machine.")
        .several(
            "credential",
            "FILE...",
            "What the server, or the client, is to show: its key and certificates.")
        .several(
            "client-trust",
            "FILE...",
            "Whose clients the server is to trust, and their revocation lists. With it, clients"
                + " must show a certificate.")
        .value(
            "mode",
            "MODE",
            "Who shows a certificate: one-way, mutual or optional. As it is now, by default.")
        .several(
            "client",
            "FILE...",
            "The files of a client, to rehearse and to probe with. They are not given to the server.")
        .value(
            "role",
            "ROLE=FILE",
            "For a database: the role that whoever holds the certificate in FILE logs in as, without a"
                + " password. May be given several times.")
        .several(
            "trust", "FILE...", "For a client: the authorities by which it is to know servers.")
        .several(
            "server",
            "FILE...",
            "For a client: the files of a server, to rehearse with. They are not given to the client.")
        .value("host", "NAME", "A name by which clients ask for it. May be given several times.")
        .value("port", "PORT", "The port for TLS; otherwise the one that is there.")
        .value("redirect-from", "PORT", "The port in clear text that sends clients to TLS.")
        .value(
            "strict-transport",
            "TIME",
            "How long browsers are to insist on TLS, such as 365d (a response header).")
        .several(
            "protocols",
            "VERSION...",
            "The versions. By default they stay as they are; TLSv1.2 TLSv1.3 where TLS is new.")
        .value("ciphers", "WORDS", "The cipher suites, in the server's own words.")
        .value(
            "home",
            "PATH",
            "The folder of the server's settings, or its main file, where it is not in its usual"
                + " place.")
        .value(
            "place",
            "FOLDER",
            "Where the server's new files go; otherwise tls beside its settings.")
        .value(
            "form",
            "FORM",
            "The form of its files, where it takes several, such as pem; as it is now by default.")
        .value(
            "site",
            "NAME",
            "Which site, connector or listener, where there are several. Without a credential, that"
                + " one is shown alone.")
        .several(
            "may-change",
            "NAME...",
            "Sites, connectors or listeners that may change more than was asked for, such as by a"
                + " file that they share. Without it, such a change is refused.")
        .value("owner", "USER[:GROUP]", "To whom files with secrets are to belong.")
        .value(
            "description",
            "FILE",
            "Instead of SERVER: a file that describes one, in YAML. docs/describing-a-server.md.")
        .incompleteChains()
        .flag(
            "try",
            "Try the server's description: what its settings would become in each mode, in a copy that"
                + " is never written, and whether that is read back as it was wanted.")
        .flag("list", "The servers and clients that Symbolon knows, and which of them are here.")
        .flag("write", "Make the change. Without it, the change is only shown.")
        .flag(
            "reload",
            "With --write: reload the running server and ask it whether it does what is wanted. If"
                + " not, everything is put back.")
        .flag("no-renewal", "Do not renew the certificate there with the account that ordered it.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    Optional<ClientKind> client =
        given.arguments().stream().findFirst().flatMap(ClientKinds::named);
    if (client.isPresent()) {
      return ClientCommand.run(invocation, given, client.get());
    }
    ConfigureChoice.check(given);
    if (given.has("list")) {
      return ListCommand.run(invocation);
    }
    Optional<String> name =
        given.arguments().stream().findFirst().map(word -> word.toLowerCase(Locale.ROOT));
    Optional<Path> description = given.pathOf("description");
    if (name.isEmpty() && description.isEmpty()) {
      return overview(invocation);
    }
    ConfigureJob job =
        ConfigureChoice.job(
            given,
            description
                .<Server>map(DescribedServer::of)
                .orElseGet(() -> server(name.orElseThrow())));
    if (given.has("try")) {
      return TryCommand.run(invocation, job);
    }
    return job.isReading() ? read(invocation, job) : change(invocation, job, given, name);
  }

  private static Server server(String name) {
    return Servers.named(name)
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.INVALID_ARGUMENT,
                    "There is no server or client '" + Output.shown(name) + "'.",
                    "Symbolon knows the servers "
                        + Servers.all().stream().map(Server::name).collect(Collectors.joining(", "))
                        + "; and the clients "
                        + ClientKinds.all().stream()
                            .map(ClientKind::name)
                            .collect(Collectors.joining(", "))
                        + ".",
                    "Name one of these."));
  }

  private static int overview(Invocation invocation) {
    OverviewReport report = new OverviewJob().run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(ConfigureDocument.of(report.servers(), report.failures(), output.commands()));
    } else {
      new ServersText(output).overview(report.servers(), report.failures());
    }
    return report.isProblem() ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static int read(Invocation invocation, ConfigureJob job) {
    ServerReport report = job.read(invocation.task());
    List<Finding> notices = invocation.notices();
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(ConfigureDocument.of(List.of(report), notices, output.commands()));
    } else {
      new ServersText(output).one(report, notices);
    }
    return Finding.anyProblem(report.allFindings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static int change(
      Invocation invocation, ConfigureJob job, GivenOptions given, Optional<String> name) {
    boolean write = given.has("write");
    try (PlannedChange planned = job.plan(invocation.task())) {
      ChangeReport report = write ? planned.apply(given.has("reload")) : planned.unchanged();
      Output output = invocation.output();
      if (output.isJson()) {
        output.json(ConfigureDocument.of(report, output.commands()));
      } else {
        new ChangeText(output, report, name, given).print();
      }
      if (report.isPutBack() || (write && report.change().isRefused())) {
        return ExitCode.NOT_WRITTEN;
      }
      if (report.isUnseen()) {
        return ExitCode.NOT_SEEN;
      }
      return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
    }
  }
}
