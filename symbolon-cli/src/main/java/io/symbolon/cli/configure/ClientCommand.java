// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ServerChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.join.JoinOptions;
import io.symbolon.server.ClientKind;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.task.configure.ClientJob;
import io.symbolon.task.configure.ClientReport;
import java.util.List;
import java.util.Optional;

/** {@code symbolon configure CLIENT}: a program that opens connections. */
final class ClientCommand {
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

  private ClientCommand() {}

  static int run(Invocation invocation, GivenOptions given, ClientKind kind) {
    boolean write = given.has("write");
    ClientReport report = job(kind, given).run(invocation.task(), write);
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          ConfigureDocument.of(
              report.change(), report.written(), report.findings(), output.commands()));
    } else {
      new ClientText(output, report.change(), kind, given.typed())
          .print(report.written(), report.findings());
    }
    if (write && report.change().isRefused()) {
      return ExitCode.NOT_WRITTEN;
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static ClientJob job(ClientKind kind, GivenOptions given) {
    for (String option : OF_SERVERS) {
      if (given.has(option)) {
        throw Usage.wrong(
            "--" + option + " is for servers; " + kind.name() + " opens connections.",
            "Leave it out.");
      }
    }
    if (given.hosts().size() > 1) {
      throw Usage.wrong("A client is set up for one server.", "Say --host once.");
    }
    return new ClientJob(
        kind,
        given.paths("trust"),
        given.paths("credential"),
        given.paths("server"),
        given.chains(JoinOptions.standard()),
        given.unlock(),
        new ClientWish(
            List.of(),
            Optional.empty(),
            given.hosts().stream().findFirst(),
            ServerChoice.port(given, "port"),
            given.pathOf("home"),
            given.pathOf("place"),
            given.value("site"),
            given.owner(),
            given.value("form")));
  }
}
