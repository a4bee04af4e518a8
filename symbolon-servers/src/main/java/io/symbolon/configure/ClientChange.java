// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.PendingFiles;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.probe.ProbeReport;
import io.symbolon.remedy.Naming;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.FileChange;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/** A change of a client's settings, as it would be, and what has proven it. */
public final class ClientChange {
  private final ClientKind kind;
  private final ClientProposal proposal;
  private final Party client;
  private final List<Certificate> trust;
  private final List<RehearsedClient> rehearsed;
  private final Optional<ProbeReport> answer;
  private final List<Finding> findings;

  ClientChange(
      ClientKind kind,
      ClientProposal proposal,
      Party client,
      List<Certificate> trust,
      List<RehearsedClient> rehearsed,
      Optional<ProbeReport> answer,
      List<Finding> findings) {
    this.kind = kind;
    this.proposal = proposal;
    this.client = client;
    this.trust = List.copyOf(trust);
    this.rehearsed = List.copyOf(rehearsed);
    this.answer = answer;
    this.findings = List.copyOf(findings);
  }

  /** {@return what the client is called} */
  public String title() {
    return kind.title();
  }

  /** {@return what it would show, and whom it would trust, as it would read that itself} */
  public Party client() {
    return client;
  }

  /** {@return the authorities that were named} */
  public List<Certificate> trust() {
    return trust;
  }

  /** {@return the handshakes with the files of servers} */
  public List<RehearsedClient> rehearsed() {
    return rehearsed;
  }

  /** {@return what the server itself answered} */
  public Optional<ProbeReport> answer() {
    return answer;
  }

  /** {@return what is to be said of it, the gravest first} */
  public List<Finding> findings() {
    return findings;
  }

  /** {@return the files that would be made or replaced} */
  public List<FileChange> files() {
    return ClientTls.changed(proposal);
  }

  /** {@return how the settings are used} */
  public List<ClientProposal.Use> uses() {
    return proposal.uses();
  }

  /** {@return whether a problem stops it} */
  public boolean isRefused() {
    return Finding.anyProblem(findings);
  }

  /** {@return whether everything is as it is wanted already} */
  public boolean isNothing() {
    return files().isEmpty();
  }

  /**
   * Writes the files in one step.
   *
   * @return what was written, and what it replaced
   * @throws SymbolonException if it is refused, or the files can't be written; then nothing has
   *     changed
   */
  public List<WrittenItem> apply() {
    if (isRefused()) {
      Finding first =
          findings.stream().filter(one -> one.level() == Level.PROBLEM).findFirst().orElseThrow();
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The settings of the client were not changed.",
          (first.where().isEmpty() ? "" : first.where() + ": ") + first.statement(Naming.MARKS),
          first.remedy());
    }
    if (isNothing()) {
      return List.of();
    }
    try (PendingFiles pending = ServerChange.pending(files(), proposal.newFolders(), List.of())) {
      return pending.written();
    }
  }
}
