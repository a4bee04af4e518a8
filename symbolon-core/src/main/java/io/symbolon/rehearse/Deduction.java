// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/**
 * Deduces what pairs do from handshakes with one good partner. A client judges the server's
 * certificates before it shows its own, and neither judgement depends on what the judge itself
 * shows. So, among sides with the same trust: what refuses a server with a good client refuses it
 * with every client; and a server that is accepted does with each client what a good server does.
 */
final class Deduction implements Rehearsal.Pairs {
  private final Attempts attempts;
  private final List<Party> servers;
  private final List<Party> clients;
  private final Map<Block, Optional<Partners>> partners = new ConcurrentHashMap<>();
  private final Map<Pair, Attempts.AttemptEnd> made = new ConcurrentHashMap<>();

  /** All pairs of one trust with another, over one protocol version. */
  private record Block(
      Optional<List<Certificate>> serverTrust,
      Optional<List<Certificate>> clientTrust,
      ProtocolVersion protocol) {}

  /** A server and a client that accept each other. */
  private record Partners(int server, int client) {}

  private record Pair(int server, int client, ProtocolVersion protocol) {}

  Deduction(
      Attempts attempts,
      List<Party> servers,
      List<Party> clients,
      List<ProtocolVersion> protocols) {
    this.attempts = attempts;
    this.servers = servers;
    this.clients = clients;
    for (ProtocolVersion protocol : protocols) {
      for (Optional<List<Certificate>> ofServer : trusts(servers)) {
        for (Optional<List<Certificate>> ofClient : trusts(clients)) {
          Block block = new Block(ofServer, ofClient, protocol);
          partners.put(block, good(block));
        }
      }
    }
  }

  private static List<Optional<List<Certificate>>> trusts(List<Party> parties) {
    return parties.stream().map(Party::trust).distinct().toList();
  }

  private Block block(int server, int client, ProtocolVersion protocol) {
    return new Block(servers.get(server).trust(), clients.get(client).trust(), protocol);
  }

  /** Looks along the first row and the first column, where every side that is good has its turn. */
  private Optional<Partners> good(Block block) {
    int[] rows =
        IntStream.range(0, servers.size())
            .filter(s -> servers.get(s).trust().equals(block.serverTrust()))
            .toArray();
    int[] columns =
        IntStream.range(0, clients.size())
            .filter(c -> clients.get(c).trust().equals(block.clientTrust()))
            .toArray();
    for (int column : columns) {
      if (made(rows[0], column, block.protocol()).result().isAccepted()) {
        return Optional.of(new Partners(rows[0], column));
      }
    }
    for (int row : rows) {
      if (made(row, columns[0], block.protocol()).result().isAccepted()) {
        return Optional.of(new Partners(row, columns[0]));
      }
    }
    return Optional.empty();
  }

  private Attempts.AttemptEnd made(int server, int client, ProtocolVersion protocol) {
    return made.computeIfAbsent(
        new Pair(server, client, protocol),
        pair -> attempts.once(servers.get(server), clients.get(client), protocol));
  }

  @Override
  public Attempts.AttemptEnd of(int server, int client, ProtocolVersion protocol) {
    Optional<Partners> good =
        partners.getOrDefault(block(server, client, protocol), Optional.empty());
    if (good.isEmpty()) {
      return made(server, client, protocol);
    }
    Attempts.AttemptEnd withGoodClient = made(server, good.get().client(), protocol);
    if (!withGoodClient.result().isAccepted()) {
      return withGoodClient;
    }
    Attempts.AttemptEnd withGoodServer = made(good.get().server(), client, protocol);
    return withGoodServer.result().isAccepted() ? withGoodClient : withGoodServer;
  }
}
