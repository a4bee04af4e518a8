// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.ProbeDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.party.Party;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon probe HOST:PORT}. */
public final class ProbeCommand {
  private ProbeCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .one("HOST:PORT", "The server's address; an IPv6 address stands in brackets.")
        .value(
            "trust",
            "FILE",
            "What a client would trust: a truststore or certificates, in any format. May be given"
                + " several times.")
        .value(
            "credential",
            "FILE",
            "What a client would show where the server asks for its certificate (mutual TLS). May be"
                + " given several times for the files of one.")
        .value(
            "expect",
            "FILE",
            "The certificate or keystore that was deployed: whether the server shows exactly that.")
        .value(
            "start-with",
            "SERVICE",
            "What speaks in clear text before TLS: " + ProbeJob.services() + ".")
        .value(
            "into",
            "FILE",
            "Save the certificates that the server sent, as PEM, to look at them or to build a"
                + " truststore.")
        .flag("replace", "Replace an existing file; the command undo brings the old one back.")
        .flag(
            "one-handshake",
            "One handshake and nothing more: every version and cipher suite is not asked for.")
        .flag("details", "Show every cipher suite.")
        .value("host", "NAME", "The name to ask for and to check, if not the one in HOST:PORT.")
        .unlock()
        .value("limit", "SECONDS", "How long to wait for an answer; 10 by default.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    ProbeJob job = ProbeJob.of(given);
    Optional<Path> into = job.into();
    if (into.isPresent() && Files.exists(into.get()) && !job.replace()) {
      throw SentCertificates.exists(into.get());
    }
    RehearsalFiles files = new RehearsalFiles(invocation, job.unlock(), new ArrayList<>());
    Probe probe = job.probe().withClock(invocation.session().clock());
    if (!job.trust().isEmpty()) {
      probe = probe.withTrust(trust(files, job));
    }
    if (!job.credential().isEmpty()) {
      probe = probe.withCredential(credential(files, job));
    }
    if (job.expected().isPresent()) {
      probe = probe.withExpected(expected(invocation, job, job.expected().get()));
    }
    ProbeReport report = probe.run();
    List<Finding> findings = new ArrayList<>(report.findings());
    findings.addAll(files.findings());
    findings.addAll(invocation.notices());
    if (into.isPresent()) {
      findings.add(SentCertificates.save(report, into.get(), job.replace()));
    }
    findings.sort(java.util.Comparator.comparing(Finding::level));
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(ProbeDocument.of(report, findings, into, invocation.output().commands()));
    } else {
      new ProbeText(invocation.output(), report, findings, into, job.details()).print();
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  /** Whom a client would trust, read as in a rehearsal. */
  private static List<Certificate> trust(RehearsalFiles files, ProbeJob job) {
    List<Certificate> trust = files.trust(job.trust()).orElseThrow();
    if (trust.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The trust given can't be used.",
          files.findings().stream()
              .filter(finding -> finding.is(FindingKind.NOT_MARKED_AS_TRUSTED))
              .map(Finding::statement)
              .findFirst()
              .orElse("There is no certificate in " + Output.shown(job.trust()) + "."),
          "Give the truststore or the authority's certificate.");
    }
    return trust;
  }

  private static Credential credential(RehearsalFiles files, ProbeJob job) {
    List<Party> found = files.credentials(job.credential());
    if (found.size() != 1) {
      throw new SymbolonException(
          found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
          "There is no client's credential to probe with.",
          "The files of --credential hold "
              + (found.isEmpty() ? "no" : String.valueOf(found.size()))
              + " private keys with their certificates.",
          "Name the files of one client.");
    }
    return found.get(0).credential().orElseThrow();
  }

  private static Certificate expected(Invocation invocation, ProbeJob job, Path file) {
    Survey survey = invocation.survey(List.of(file), invocation.unlock(job.unlock()));
    List<Certificate> meant =
        survey.matches().stream()
            .flatMap(match -> match.certificates().stream().limit(1))
            .distinct()
            .toList();
    if (meant.isEmpty()) {
      meant = survey.certificates().keySet().stream().filter(one -> !one.isAuthority()).toList();
    }
    if (meant.size() == 1) {
      return meant.get(0);
    }
    if (meant.isEmpty() && !survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
    throw new SymbolonException(
        meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "It is not clear which certificate is expected.",
        Output.shown(file) + " holds " + meant.size() + " end-entity certificates.",
        "Name a file with the one that was deployed.");
  }
}
