// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.ProbeDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.party.Party;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.probe.StartWith;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
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
            "What speaks in clear text before TLS: "
                + java.util.Arrays.stream(StartWith.values())
                    .map(StartWith::word)
                    .collect(java.util.stream.Collectors.joining(", "))
                + ".")
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
        .value("limit", "SECONDS", "How long to wait for an answer; 10 if not said.")
        .common();
  }

  public static int run(Invocation invocation) {
    Probe probe = probe(invocation.argument()).withClock(invocation.session().clock());
    if (invocation.value("host").isPresent()) {
      probe = probe.withHost(Invocation.oneHost(invocation.value("host").get()));
    }
    if (invocation.value("limit").isPresent()) {
      probe = probe.withLimit(limit(invocation.value("limit").get()));
    }
    List<Path> trustFiles = invocation.trustPaths();
    if (!trustFiles.isEmpty()) {
      probe = probe.withTrust(trust(invocation, trustFiles));
    }
    if (invocation.has("credential")) {
      probe = probe.withCredential(credential(invocation));
    }
    if (invocation.has("expect")) {
      probe = probe.withExpected(expected(invocation));
    }
    if (invocation.has("start-with")) {
      probe = probe.withStart(startWith(invocation.value("start-with").orElseThrow()));
    }
    if (invocation.has("one-handshake")) {
      probe = probe.withHandshakeAlone();
    }
    Optional<Path> into = invocation.value("into").map(Invocation::path);
    if (into.isPresent() && Files.exists(into.get()) && !invocation.has("replace")) {
      throw SentCertificates.exists(into.get());
    }
    ProbeReport report = probe.run();
    List<Finding> findings = new ArrayList<>(report.findings());
    findings.addAll(invocation.notices());
    if (into.isPresent()) {
      findings.add(SentCertificates.save(report, into.get(), invocation.has("replace")));
    }
    findings.sort(java.util.Comparator.comparing(Finding::level));
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(ProbeDocument.of(report, findings, into, invocation.output().commands()));
    } else {
      new ProbeText(invocation.output(), report, findings, into, invocation.has("details")).print();
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static List<Certificate> trust(Invocation invocation, List<Path> files) {
    Survey survey = invocation.survey(files, invocation.unlock());
    if (!survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
    if (survey.certificates().isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The trust given can't be used.",
          "There is no certificate in " + Output.shown(files) + ".",
          "Give the truststore or the authority's certificate.");
    }
    return new ArrayList<>(survey.certificates().keySet());
  }

  private static Credential credential(Invocation invocation) {
    List<Party> found = new RehearsalFiles(invocation, new ArrayList<>()).credentials("credential");
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

  private static Certificate expected(Invocation invocation) {
    List<Path> files = List.of(Invocation.path(invocation.value("expect").orElseThrow()));
    Survey survey = invocation.survey(files, invocation.unlock());
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
        Output.shown(files.get(0)) + " holds " + meant.size() + " end-entity certificates.",
        "Name a file with the one that was deployed.");
  }

  private static StartWith startWith(String word) {
    return StartWith.ofWord(word)
        .orElseThrow(
            () ->
                Invocation.usage(
                    "'" + Output.shown(word) + "' is no service that Symbolon can begin with.",
                    "Take one of: "
                        + java.util.Arrays.stream(StartWith.values())
                            .map(StartWith::word)
                            .collect(java.util.stream.Collectors.joining(", "))
                        + "."));
  }

  private static Duration limit(String text) {
    if (!text.matches("[1-9][0-9]{0,3}")) {
      throw Invocation.usage(
          "--limit takes whole seconds from 1 to 9999.", "Say for example --limit 5.");
    }
    return Duration.ofSeconds(Integer.parseInt(text));
  }

  private static Probe probe(String address) {
    int colon = address.lastIndexOf(':');
    String port = address.substring(colon + 1);
    if (colon <= 0 || !port.matches("[0-9]{1,5}")) {
      throw Invocation.usage(
          "'" + Output.shown(address) + "' is no HOST:PORT.",
          "Write it like ingest.lanternfish.example:8443 or [2001:db8::17]:8443.");
    }
    return Probe.of(address.substring(0, colon), Integer.parseInt(port));
  }
}
