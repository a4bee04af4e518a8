// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.party.Party;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** What would go otherwise with other clients than the one that was rehearsed with. */
public final class OtherClients {
  private OtherClients() {}

  /**
   * {@return what other clients would stumble over than the one that is rehearsed}
   *
   * @param client the client that is rehearsed
   * @param now the moment that counts as now
   * @param systemRoots the roots that the platform trusts
   */
  public static List<Finding> of(Party server, Party client, Instant now, SystemRoots systemRoots) {
    List<Certificate> shown = server.chain();
    Chain asShown = new ChainFinder(shown, now, SystemRoots.none()).from(shown.get(0));
    List<Finding> findings = new ArrayList<>();
    Certificate last = asShown.last();
    List<Certificate> trust = client.trust().orElse(List.of());
    boolean helped =
        !last.isSelfSigned()
            && trust.stream()
                .anyMatch(
                    one ->
                        one.isAuthority()
                            && !one.isSelfSigned()
                            && one.subject().equals(last.issuer()));
    if (helped) {
      findings.add(
          Finding.of(
              FindingKind.CLIENT_BRINGS_INTERMEDIATE,
              server.where(),
              "The server does not send "
                  + last.issuer()
                  + "; this client has it in its trust. A client with the root alone refuses the"
                  + " server.",
              Remedy.of(
                  "Join the server's credential with that intermediate.",
                  Action.of(Task.JOIN, server.files()))));
    }
    // Of a client whose trust is given it is known whom it trusts.
    boolean known =
        client.trust().isPresent()
            || systemRoots.issuerOf(last).isPresent()
            || shown.stream().anyMatch(one -> systemRoots.issuerOf(one).isPresent());
    if (!known) {
      findings.add(
          Finding.of(
              FindingKind.NOT_KNOWN_TO_SYSTEMS,
              server.where(),
              "A client with its system's roots alone, such as a browser, refuses this server: its"
                  + " root is none of them.",
              ""));
    }
    return findings;
  }
}
