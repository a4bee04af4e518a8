// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientKinds;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.Machine;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** {@code symbolon configure --list}: what Symbolon knows, and what of it is here. */
final class ListCommand {
  private static final int NAME = 16;
  private static final int TITLE = 16;
  private static final int HOW = 12;

  private ListCommand() {}

  /** A server that is known, with the settings files that were found here. */
  record Known(Server server, List<Path> found) {}

  static int run(Invocation invocation) {
    Machine machine = Machine.here();
    List<Known> servers = new ArrayList<>();
    for (Server server : Servers.all()) {
      servers.add(
          new Known(server, server.find(machine).stream().map(Installation::main).toList()));
    }
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          ConfigureDocument.ofKnown(
              servers.stream()
                  .map(one -> ConfigureDocument.Known.of(one.server(), one.found()))
                  .toList(),
              ClientKinds.all().stream().map(ConfigureDocument.KnownClient::of).toList()));
      return ExitCode.DONE;
    }
    Paint paint = output.paint();
    output.line(paint.heading("Servers"));
    for (Known one : servers) {
      String here =
          one.found().isEmpty()
              ? paint.faint(
                  "not found here" + one.server().says().map(says -> ": " + says).orElse(""))
              : one.found().stream()
                  .map(Output::shown)
                  .collect(java.util.stream.Collectors.joining(", "));
      output.line(
          "  "
              + HoldingText.padded(one.server().name(), NAME)
              + HoldingText.padded(one.server().title(), TITLE)
              + HoldingText.padded(one.server().isDescribed() ? "described" : "built in", HOW)
              + here);
    }
    output.line("");
    output.line(paint.heading("Clients"));
    for (ClientKind client : ClientKinds.all()) {
      output.line("  " + HoldingText.padded(client.name(), NAME) + client.title());
    }
    output.line("");
    output.wrapped(
        "",
        "Any other server can be described in a file: docs/describing-a-server.md. Try what you have"
            + " described:");
    output.pasted("  " + paint.command("symbolon configure --description FILE --try"));
    return ExitCode.DONE;
  }
}
