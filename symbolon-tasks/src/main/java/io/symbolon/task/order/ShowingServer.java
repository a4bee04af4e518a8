// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.configure.ChangeReport;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.NamedFiles;
import io.symbolon.task.configure.PlannedChange;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The server that is given a certificate as soon as it is there. */
final class ShowingServer {
  private final TaskRun run;
  private final Path file;
  private final ConfigureJob job;

  /**
   * A server.
   *
   * @param said what is wanted of it
   * @param file where the certificate and its key lie
   * @param seal where the password of that file comes from, where it has one
   */
  ShowingServer(TaskRun run, ConfigureJob said, Path file, Optional<PasswordSource> seal) {
    this.run = run;
    this.file = file;
    NamedFiles files = said.files();
    List<PasswordSource> unlock = new ArrayList<>(files.unlock());
    seal.ifPresent(unlock::add);
    this.job =
        said.with(
            new NamedFiles(
                List.of(file),
                files.clientTrust(),
                files.clients(),
                files.roles(),
                files.chains(),
                unlock));
  }

  /**
   * Gives it the certificate, reloads it, and looks whether it shows it. What goes wrong is a
   * finding: the certificate is where it belongs anyway.
   */
  Optional<ShownBy> given(List<Finding> findings) {
    try (PlannedChange planned = job.plan(run)) {
      ChangeReport report = planned.apply(true);
      boolean refused = report.change().isRefused();
      boolean seen = !refused && !report.isPutBack() && !report.isUnseen();
      report.findings().stream()
          .filter(one -> !one.is(FindingKind.CLIENTS_NOT_REHEARSED)) // an order knows no clients
          .forEach(findings::add);
      if (!seen && !Finding.anyProblem(report.findings())) {
        findings.add(notShown(report.change().title() + " was not seen to show it.", ""));
      }
      return refused || report.isPutBack()
          ? Optional.empty()
          : Optional.of(
              new ShownBy(
                  report.change().title(),
                  report.change().place().place().name(),
                  report.change().installation().main(),
                  seen,
                  report.result().map(one -> one.written()).orElse(List.of()),
                  report.accounts()));
    } catch (SymbolonException e) {
      findings.add(notShown(e.inFull(), e.remedy().advice(io.symbolon.remedy.Naming.MARKS)));
      return Optional.empty();
    }
  }

  private Finding notShown(String seen, String advice) {
    return Finding.of(
        FindingKind.RENEWAL_NOT_SHOWN,
        Level.PROBLEM,
        job.server().title(),
        "The certificate was obtained, and the server does not show it. " + seen,
        advice
            + " Then give it to the server: symbolon configure "
            + job.server().name()
            + " "
            + Input.CREDENTIAL.mention(VisibleText.of(file.toString())));
  }
}
