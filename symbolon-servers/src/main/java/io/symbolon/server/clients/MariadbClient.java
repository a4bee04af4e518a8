// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.lossless.KeyedLines;
import io.symbolon.lossless.LineDialect;
import io.symbolon.probe.StartWith;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import java.util.List;
import java.util.Optional;

/** Clients of MariaDB and MySQL: the group client of an option file. */
public final class MariadbClient implements ClientKind {
  private static final LineDialect OPTIONS =
      LineDialect.INI.withComments("#;", true).withQuotes(LineDialect.Quotes.DOUBLE);

  /** Made by the registry of clients. */
  public MariadbClient() {}

  @Override
  public String name() {
    return "mariadb-client";
  }

  @Override
  public String title() {
    return "A client of MariaDB";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    ClientFiles files =
        new ClientFiles(machine, wish, ClientFiles.file(machine, wish, "client.cnf", ".my.cnf"));
    files.set(List.of("client", "ssl-ca"), files.trust());
    files.set(List.of("client", "ssl-verify-server-cert"), "1");
    files
        .pair()
        .ifPresent(
            pair -> {
              files.set(List.of("client", "ssl-cert"), pair.get(0));
              files.set(List.of("client", "ssl-key"), pair.get(1));
            });
    String host = wish.host().map(one -> " --host=" + one.typed()).orElse("");
    String port = wish.port().map(one -> " --port=" + one).orElse("");
    return files.proposal(
        source -> KeyedLines.read(source, OPTIONS),
        List.of(
            new ClientProposal.Use(
                "with its own program",
                "mariadb --defaults-extra-file="
                    + ClientFiles.quoted(files.file().toString())
                    + host
                    + port)),
        Optional.of(StartWith.MYSQL));
  }
}
