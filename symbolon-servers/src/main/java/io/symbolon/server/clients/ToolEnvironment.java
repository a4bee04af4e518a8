// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.lossless.KeyedLines;
import io.symbolon.lossless.LineDialect;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Programs that find their authorities by variables of the environment: curl, Python and its
 * requests, Node.js, and what takes the usual variable for a file of authorities.
 */
public final class ToolEnvironment implements ClientKind {
  /** Made by the registry of clients. */
  public ToolEnvironment() {}

  @Override
  public String name() {
    return "environment";
  }

  @Override
  public String title() {
    return "curl, Python, Node.js and others, by their environment";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    ClientFiles files =
        new ClientFiles(machine, wish, ClientFiles.file(machine, wish, "tls.env", "tls.env"));
    String trust = files.trust();
    for (String name :
        List.of("CURL_CA_BUNDLE", "SSL_CERT_FILE", "REQUESTS_CA_BUNDLE", "NODE_EXTRA_CA_CERTS")) {
      files.set(List.of(name), trust);
    }
    List<ClientProposal.Use> uses = new ArrayList<>();
    String file = ClientFiles.quoted(files.file().toString());
    uses.add(
        new ClientProposal.Use(
            "in a shell, for what is started from it", "set -a; . " + file + "; set +a"));
    uses.add(new ClientProposal.Use("in a unit of systemd", "EnvironmentFile=" + files.file()));
    String address =
        wish.host().map(one -> one.typed()).orElse("HOST")
            + wish.port().map(one -> ":" + one).orElse("");
    files
        .pair()
        .ifPresent(
            pair ->
                uses.add(
                    new ClientProposal.Use(
                        "with curl, which takes the client's certificate on its command line alone",
                        "curl --cert "
                            + ClientFiles.quoted(pair.get(0))
                            + " --key "
                            + ClientFiles.quoted(pair.get(1))
                            + " https://"
                            + address
                            + "/")));
    return files.proposal(
        source -> KeyedLines.read(source, LineDialect.ENVIRONMENT), uses, Optional.empty());
  }
}
