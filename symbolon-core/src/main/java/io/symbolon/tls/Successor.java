// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.chain.Credential;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.handshake.MemoryHandshake;
import io.symbolon.handshake.ServerObserver;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.party.Trust;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.FailureMessages;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLException;

/** Judges whether a setup may take the place of another while connections run. */
final class Successor {
  private static final Set<FindingKind> REFUSED =
      Set.of(
          FindingKind.EXPIRED,
          FindingKind.NOT_YET_VALID,
          FindingKind.NOT_FOR_SERVERS,
          FindingKind.NOT_FOR_CLIENTS,
          FindingKind.KEY_USAGE_FORBIDS,
          FindingKind.UNKNOWN_CRITICAL_EXTENSION,
          FindingKind.EXTENSIONS_IN_OLD_VERSION,
          FindingKind.ISSUER_IS_NO_AUTHORITY,
          FindingKind.ISSUER_MAY_NOT_SIGN,
          FindingKind.ISSUER_NOT_FOR_USE,
          FindingKind.NAME_NOT_PERMITTED,
          FindingKind.PATH_TOO_LONG,
          FindingKind.SIGNATURE_NOT_CHECKED);

  private final TlsSetup old;
  private final TlsSetup next;
  private final Instant now;

  Successor(TlsSetup old, TlsSetup next, Instant now) {
    this.old = old;
    this.next = next;
    this.now = now;
  }

  /** Whether it shows, trusts and asks for the same. */
  boolean isSame() {
    return chains(old).equals(chains(next))
        && old.trust().map(Trust::certificates).equals(next.trust().map(Trust::certificates))
        && old.trust().map(Trust::isWithSystem).equals(next.trust().map(Trust::isWithSystem))
        && old.hasTermsOf(next);
  }

  private static List<List<Certificate>> chains(TlsSetup setup) {
    return setup.credentials().stream().map(Credential::chain).toList();
  }

  /** What is to be said of it: problems where it may not. */
  List<Finding> findings() {
    List<Finding> findings = new ArrayList<>();
    for (Credential credential : next.credentials()) {
      judge(credential, findings);
    }
    if (findings.stream().noneMatch(finding -> finding.level() == Level.PROBLEM)
        && next.side() == Side.SERVER) {
      proven().ifPresent(findings::add);
    }
    return findings;
  }

  private void judge(Credential credential, List<Finding> findings) {
    Certificate end = credential.certificate();
    String where = end.subject().shortText();
    ChainExplainer explainer = new ChainExplainer(next.side(), now, where);
    List<Finding> all = new ArrayList<>(explainer.certificates(credential.chain()));
    explainer.use(end).ifPresent(all::add);
    all.addAll(explainer.path(credential.chain(), List.of()));
    all.stream().filter(finding -> REFUSED.contains(finding.kind())).forEach(findings::add);
    Optional<Credential> before =
        old.credentials().stream()
            .filter(one -> one.certificate().subject().equals(end.subject()))
            .findFirst();
    if (before.isPresent()) {
      compare(before.get(), credential, where, findings);
    }
  }

  /** A chain that lost its intermediates looks whole, and works with some clients only. */
  private static void compare(
      Credential before, Credential after, String where, List<Finding> findings) {
    Certificate end = after.certificate();
    if (end.issuer().equals(before.certificate().issuer())
        && after.chain().size() < before.chain().size()
        && !before.chain().get(before.chain().size() - 1).isSelfSigned()) {
      findings.add(
          Finding.of(
              FindingKind.CHAIN_SHORTER,
              where,
              "The new chain has "
                  + after.chain().size()
                  + " certificates where the one in use has "
                  + before.chain().size()
                  + " from the same authority: clients that need the missing ones would refuse.",
              "Put all certificates of the chain into the file, and let the file be renamed into"
                  + " place when it is whole."));
    }
    List<GeneralName> dropped = new ArrayList<>(before.certificate().alternativeNames());
    dropped.removeAll(end.alternativeNames());
    if (!dropped.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.HOST_DROPPED,
              where,
              "The new certificate no longer covers "
                  + dropped.stream()
                      .limit(10)
                      .map(GeneralName::value)
                      .map(io.symbolon.text.VisibleText::of)
                      .collect(Collectors.joining(", "))
                  + ".",
              "Make sure that no client still uses that name."));
    }
  }

  /**
   * One handshake in memory, with a client that lets everything pass, proves that it can be used.
   */
  private Optional<Finding> proven() {
    LoadedSetup generation = next.oneWay().generation();
    SSLEngine server = generation.follow(generation.platform().createSSLEngine());
    ServerObserver observer = new ServerObserver(Optional.empty());
    SSLEngine client = TlsContexts.observing(observer.keys(), observer.trust()).createSSLEngine();
    client.setUseClientMode(true);
    MemoryHandshake.HandshakeEnd outcome = MemoryHandshake.run(server, client);
    if (outcome.first().isEmpty()) {
      return Optional.empty();
    }
    SSLException raw = outcome.of(outcome.first().get()).orElseThrow();
    return Optional.of(
        Finding.of(
            FindingKind.NO_HANDSHAKE,
            next.credentials().get(0).certificate().subject().shortText(),
            "With the new files no handshake succeeds. "
                + ChainExplainer.sentence(outcome.first().get().title())
                + " says: "
                + FailureMessages.of(raw)
                + ".",
            Remedy.of("Rehearse them.", Action.of(Task.REHEARSE).with(Input.SERVER))));
  }
}
