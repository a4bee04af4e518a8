package io.symbolon.cli;

import io.symbolon.Finding;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.survey.Survey;
import io.symbolon.tls.Probe;
import io.symbolon.tls.ProbeReport;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

/** {@code symbolon probe HOST:PORT}. */
final class ProbeCommand {
  private ProbeCommand() {}

  static CommandSpec spec() {
    return CommandSpec.of(Command.PROBE)
        .one("HOST:PORT", "The server's address; an IPv6 address stands in brackets.")
        .value(
            "trust",
            "FILE",
            "What a client would trust: a truststore or certificates, in any format. May be given"
                + " several times.")
        .value("host", "NAME", "The name to ask for and to check, if not the one in HOST:PORT.")
        .unlock()
        .value("limit", "SECONDS", "How long to wait for an answer; 10 if not said.")
        .common();
  }

  static int run(Invocation invocation) {
    Probe probe = probe(invocation.argument()).withClock(invocation.session().clock());
    if (invocation.value("host").isPresent()) {
      probe = probe.withHost(io.symbolon.x509.HostName.parse(invocation.value("host").get()));
    }
    if (invocation.value("limit").isPresent()) {
      probe = probe.withLimit(limit(invocation.value("limit").get()));
    }
    List<Path> trustFiles = invocation.trustPaths();
    if (!trustFiles.isEmpty()) {
      probe = probe.withTrust(trust(invocation, trustFiles));
    }
    ProbeReport report = probe.run();
    if (invocation.output().isJson()) {
      invocation.output().json(new ProbeJson(report));
    } else {
      new ProbeText(invocation.output(), report).print();
    }
    return Finding.anyProblem(report.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static List<io.symbolon.x509.Certificate> trust(Invocation invocation, List<Path> files) {
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
