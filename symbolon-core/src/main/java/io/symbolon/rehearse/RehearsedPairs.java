// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.finding.Finding;
import io.symbolon.party.Party;
import java.util.List;

/**
 * What came of rehearsing every server with every client. The verdict is here; whoever shows it
 * decides nothing.
 *
 * @param reports one for each pair, all clients of the first server first
 * @param findings what is to be said beside the pairs, such as of their files
 */
public record RehearsedPairs(
    List<Party> servers,
    List<Party> clients,
    List<RehearsalReport> reports,
    List<Finding> findings) {
  /** Copies the lists. */
  public RehearsedPairs {
    servers = List.copyOf(servers);
    clients = List.copyOf(clients);
    reports = List.copyOf(reports);
    findings = List.copyOf(findings);
    if (reports.size() != servers.size() * clients.size()) {
      throw new IllegalArgumentException("there is one report for each pair");
    }
  }

  /** {@return what came of a server with a client, by their numbers} */
  public RehearsalReport report(int server, int client) {
    return reports.get(server * clients.size() + client);
  }

  /** {@return how many pairs accept each other} */
  public int accepted() {
    return (int) reports.stream().filter(RehearsalReport::isAccepted).count();
  }

  /** {@return whether every pair accepts each other, and nothing beside them is a problem} */
  public boolean isAccepted() {
    return accepted() == reports.size() && !Finding.anyProblem(findings);
  }
}
