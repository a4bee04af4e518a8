// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.chain.Credential;
import io.symbolon.configure.ClientChange;
import io.symbolon.configure.ClientTls;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Sets up a program that opens connections, with what it shows and by whom it knows servers.
 *
 * @param kind the kind of program
 * @param trust the files of the authorities by which it is to know servers
 * @param credential the files of what it is to show
 * @param server the files of what a server shows, to rehearse with
 * @param chains what is accepted of a chain that is not proven up to its root
 * @param unlock the sources of passwords to try
 * @param wish what else is wanted; what is to be shown and trusted comes from the files
 */
public record ClientJob(
    ClientKind kind,
    List<Path> trust,
    List<Path> credential,
    List<Path> server,
    JoinOptions chains,
    List<PasswordSource> unlock,
    ClientWish wish) {
  /**
   * Checks that there is somebody to trust.
   *
   * @throws WrongJob if there is nobody
   */
  public ClientJob {
    if (trust.isEmpty()) {
      throw new WrongJob(
          "No authority is given by which the client knows its server.",
          "Name the files of the server's authority: " + Input.TRUST.mention("FILE..."));
    }
  }

  /**
   * Plans the change, rehearses it, and makes it where that is said and nothing speaks against it.
   *
   * @param run what it is done in
   * @param write whether it is made
   * @return the change, and what was written
   */
  public ClientReport run(TaskRun run, boolean write) {
    ClientTls tls =
        ClientTls.of(kind, Machine.here(), run.surveyor(run.unlock(unlock)), run.around().clock());
    List<Finding> findings = new ArrayList<>();
    List<Certificate> trusted = trusted(run, findings);
    ClientWish whole = wish.withTrust(trusted);
    Optional<Credential> shown = shown(run, trusted, findings);
    ClientChange change =
        tls.plan(shown.map(whole::withCredential).orElse(whole), servers(run), true);
    findings.addAll(change.findings());
    findings.addAll(run.notices());
    findings.sort(Comparator.comparing(Finding::level));
    Optional<List<WrittenItem>> written =
        change.isRefused() || !write ? Optional.empty() : Optional.of(change.apply());
    return new ClientReport(change, written, findings);
  }

  private Survey survey(TaskRun run, List<Path> files) {
    return WishedFiles.whole(run, files, unlock);
  }

  private List<Certificate> trusted(TaskRun run, List<Finding> findings) {
    List<Certificate> trusted =
        PartyFiles.trust(survey(run, trust), findings).stream()
            .filter(Certificate::isAuthority)
            .toList();
    if (trusted.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no authority to know the server by.",
          "No authority's certificate is in " + Wording.shown(trust) + ".",
          "Name the certificate of the authority that has issued the server's certificate.");
    }
    return trusted;
  }

  private Optional<Credential> shown(
      TaskRun run, List<Certificate> trusted, List<Finding> findings) {
    if (credential.isEmpty()) {
      return Optional.empty();
    }
    Joined joined = Joiner.join(WishedFiles.whole(run, credential, unlock, trusted), chains);
    joined.findings().stream()
        // A client shows its chain without the root, which its server has.
        .filter(one -> one.level() != Level.NOTE)
        .forEach(findings::add);
    return Optional.of(joined.credential().withoutRoot());
  }

  private List<Party> servers(TaskRun run) {
    if (server.isEmpty()) {
      return List.of();
    }
    List<Party> found = PartyFiles.credentials(survey(run, server));
    if (found.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of " + Input.SERVER.mention() + " hold no private key with its certificate.",
          "Name the server's keystore, or let the server itself be asked: "
              + Input.HOST.mention("NAME")
              + " "
              + Input.PORT.mention("PORT")
              + ".");
    }
    return found;
  }
}
