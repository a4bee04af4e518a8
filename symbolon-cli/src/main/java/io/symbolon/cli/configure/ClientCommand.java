// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.ClientChange;
import io.symbolon.configure.ClientTls;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FileSet;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientWish;
import io.symbolon.server.Machine;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** {@code symbolon configure CLIENT}: a program that opens connections. */
final class ClientCommand {
  private final Invocation invocation;
  private final ClientJob job;
  private final List<Finding> findings = new ArrayList<>();

  private ClientCommand(Invocation invocation, ClientJob job) {
    this.invocation = invocation;
    this.job = job;
  }

  static int run(Invocation invocation, GivenOptions given, ClientKind kind) {
    ClientJob job = ClientJob.of(kind, given);
    return new ClientCommand(invocation, job).change(given.typed());
  }

  private int change(List<String> typed) {
    ClientTls tls =
        ClientTls.of(
            job.kind(),
            Machine.here(),
            invocation.surveyor(invocation.unlock(job.unlock())),
            invocation.session().clock());
    ClientChange change = tls.plan(wish(), servers(), true);
    findings.addAll(change.findings());
    findings.addAll(invocation.notices());
    findings.sort(Comparator.comparing(Finding::level));
    boolean stops = change.isRefused() || !job.write();
    Optional<List<FileSet.Written>> written =
        stops ? Optional.empty() : Optional.of(change.apply());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(ConfigureDocument.of(change, written, findings, output.commands()));
    } else {
      new ClientText(output, change, job, typed).print(written, findings);
    }
    if (job.write() && change.isRefused()) {
      return ExitCode.NOT_WRITTEN;
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private ClientWish wish() {
    List<Certificate> trusted = trust();
    return new ClientWish(
        trusted,
        credential(trusted),
        job.host(),
        job.port(),
        job.home(),
        job.place(),
        job.site(),
        job.owner(),
        job.form());
  }

  private Survey survey(List<Path> files) {
    return WishedFiles.whole(invocation, files, job.unlock());
  }

  private List<Certificate> trust() {
    List<Finding> ofTrust = new ArrayList<>();
    List<Certificate> trusted =
        PartyFiles.trust(survey(job.trust()), ofTrust).stream()
            .filter(Certificate::isAuthority)
            .toList();
    findings.addAll(ofTrust);
    if (trusted.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no authority to know the server by.",
          "No authority's certificate is in " + Output.shown(job.trust()) + ".",
          "Name the certificate of the authority that has issued the server's certificate.");
    }
    return trusted;
  }

  private Optional<Credential> credential(List<Certificate> trusted) {
    if (job.credential().isEmpty()) {
      return Optional.empty();
    }
    Joined joined =
        Joiner.join(
            WishedFiles.whole(invocation, job.credential(), job.unlock(), trusted), job.chains());
    joined.findings().stream()
        // A client shows its chain without the root, which its server has.
        .filter(one -> one.level() != Level.NOTE)
        .forEach(findings::add);
    return Optional.of(joined.credential().withoutRoot());
  }

  private List<Party> servers() {
    if (job.server().isEmpty()) {
      return List.of();
    }
    List<Party> found = PartyFiles.credentials(survey(job.server()));
    if (found.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of --server hold no private key with its certificate.",
          "Name the server's keystore, or let the server itself be asked: --host NAME --port PORT.");
    }
    return found;
  }
}
