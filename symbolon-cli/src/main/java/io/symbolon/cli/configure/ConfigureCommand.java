// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.ServerChange;
import io.symbolon.configure.ServerReport;
import io.symbolon.configure.ServerTls;
import io.symbolon.describe.DescribedServer;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientKinds;
import io.symbolon.server.Installation;
import io.symbolon.server.Machine;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import java.util.ArrayList;
import java.util.List;
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
        .several("protocols", "VERSION...", "The versions; TLSv1.2 TLSv1.3 by default.")
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
        .value("site", "NAME", "Which site, connector or listener, where there are several.")
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
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    Optional<ClientKind> client =
        given.arguments().stream().findFirst().flatMap(ClientKinds::named);
    if (client.isPresent()) {
      return ClientCommand.run(invocation, given, client.get());
    }
    ConfigureJob job = ConfigureJob.of(given);
    Machine machine = Machine.here();
    if (job.list()) {
      return ListCommand.run(invocation, machine);
    }
    if (job.server().isEmpty() && job.description().isEmpty()) {
      return overview(invocation, machine);
    }
    Server server =
        job.description()
            .<Server>map(DescribedServer::of)
            .orElseGet(() -> server(job.server().orElseThrow()));
    if (job.tries()) {
      return TryCommand.run(invocation, machine, server, job);
    }
    ServerTls tls =
        ServerTls.of(
            server,
            machine,
            installation(machine, server, job),
            invocation.surveyor(invocation.unlock(job.unlock())),
            invocation.session().clock());
    return job.isReading() ? read(invocation, tls) : change(invocation, tls, job, given);
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

  static Installation installation(Machine machine, Server server, ConfigureJob job) {
    if (job.home().isPresent()) {
      return server.at(machine, job.home().get());
    }
    List<Installation> found = server.find(machine);
    if (found.size() == 1) {
      return found.get(0);
    }
    throw new SymbolonException(
        found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "It is not clear which " + server.title() + " is meant.",
        found.isEmpty()
            ? "None is in the usual places of this machine."
            : "There are "
                + found.size()
                + ": "
                + found.stream()
                    .map(one -> Output.shown(one.main()))
                    .collect(Collectors.joining(", "))
                + ".",
        "Name the folder of its settings: --home PATH.");
  }

  private static int overview(Invocation invocation, Machine machine) {
    List<ServerReport> reports = new ArrayList<>();
    List<Finding> failures = new ArrayList<>();
    for (Server server : Servers.all()) {
      for (Installation installation : server.find(machine)) {
        try {
          reports.add(
              ServerTls.of(
                      server,
                      machine,
                      installation,
                      invocation.surveyor(List.of()),
                      invocation.session().clock())
                  .read());
        } catch (SymbolonException e) {
          failures.add(Finding.of(e, io.symbolon.finding.Level.PROBLEM));
        }
      }
    }
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(ConfigureDocument.of(reports, failures, invocation.output().commands()));
    } else {
      new ServersText(invocation.output()).overview(reports, failures);
    }
    boolean problem =
        Finding.anyProblem(failures)
            || reports.stream().anyMatch(one -> Finding.anyProblem(one.allFindings()));
    return problem ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static int read(Invocation invocation, ServerTls tls) {
    ServerReport report = tls.read();
    List<Finding> notices = invocation.notices();
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(ConfigureDocument.of(List.of(report), notices, invocation.output().commands()));
    } else {
      new ServersText(invocation.output()).one(report, notices);
    }
    return Finding.anyProblem(report.allFindings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static int change(
      Invocation invocation, ServerTls tls, ConfigureJob job, GivenOptions given) {
    WishedFiles files = new WishedFiles(invocation, job);
    try (ServerChange change = tls.plan(files.wish(), files.clients())) {
      return change(invocation, change, files, job, given);
    }
  }

  private static int change(
      Invocation invocation,
      ServerChange change,
      WishedFiles files,
      ConfigureJob job,
      GivenOptions given) {
    List<Finding> findings = new ArrayList<>(files.findings());
    findings.addAll(change.findings());
    findings.addAll(invocation.notices());
    findings.sort(java.util.Comparator.comparing(Finding::level));
    boolean stops = change.isRefused() || !job.write();
    Optional<ChangeResult> result =
        stops ? Optional.empty() : Optional.of(change.apply(job.reload()));
    result.ifPresent(one -> findings.addAll(0, one.findings()));
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(ConfigureDocument.of(change, result, findings, invocation.output().commands()));
    } else {
      new ChangeText(invocation.output(), change, job, given.typed()).print(result, findings);
    }
    return code(change, job, result, findings);
  }

  private static int code(
      ServerChange change,
      ConfigureJob job,
      Optional<ChangeResult> result,
      List<Finding> findings) {
    boolean putBack =
        result
                .filter(
                    one ->
                        one.end() == ChangeResult.End.PUT_BACK
                            || one.end() == ChangeResult.End.PARTLY_BACK)
                .isPresent()
            || (job.write() && change.isRefused());
    if (putBack) {
      return ExitCode.NOT_WRITTEN;
    }
    boolean unseen =
        job.reload() && result.filter(one -> one.end() != ChangeResult.End.RUNNING).isPresent();
    if (unseen) {
      return ExitCode.NOT_SEEN;
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }
}
