// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.document.ProbeDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.finding.Finding;
import io.symbolon.probe.Probe;
import io.symbolon.probe.StartWith;
import io.symbolon.task.probe.ProbeAnswer;
import io.symbolon.task.probe.ProbeJob;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Collectors;

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
        .value("start-with", "SERVICE", "What speaks in clear text before TLS: " + services() + ".")
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
    ProbeAnswer answer = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          ProbeDocument.of(answer.report(), answer.findings(), answer.into(), output.commands()));
    } else {
      new ProbeText(output, answer.report(), answer.findings(), answer.into(), given.has("details"))
          .print();
    }
    return Finding.anyProblem(answer.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static ProbeJob job(GivenOptions given) {
    ProbeJob.Builder job =
        ProbeJob.of(asked(given))
            .trust(given.paths("trust"))
            .credential(given.paths("credential"))
            .unlock(given.unlock());
    given.pathOf("expect").ifPresent(job::expected);
    given.pathOf("into").ifPresent(file -> job.into(file, given.has("replace")));
    return job.build();
  }

  private static Probe asked(GivenOptions given) {
    Probe probe = probe(given.argument());
    Optional<String> host = given.value("host");
    if (host.isPresent()) {
      probe = probe.withHost(GivenOptions.oneHost(host.get()));
    }
    Optional<String> limit = given.value("limit");
    if (limit.isPresent()) {
      probe = probe.withLimit(limit(limit.get()));
    }
    Optional<String> start = given.value("start-with");
    if (start.isPresent()) {
      probe = probe.withStart(startWith(start.get()));
    }
    return given.has("one-handshake") ? probe.withHandshakeAlone() : probe;
  }

  /** The services that can be begun with. */
  private static String services() {
    return Arrays.stream(StartWith.values()).map(StartWith::word).collect(Collectors.joining(", "));
  }

  private static StartWith startWith(String word) {
    return StartWith.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "'" + Output.shown(word) + "' is not a service that Symbolon can begin with.",
                    "Take one of: " + services() + "."));
  }

  private static Duration limit(String text) {
    if (!text.matches("[1-9][0-9]{0,3}")) {
      throw Usage.wrong(
          "--limit takes whole seconds from 1 to 9999.", "Say for example --limit 5.");
    }
    return Duration.ofSeconds(Integer.parseInt(text));
  }

  private static Probe probe(String address) {
    int colon = address.lastIndexOf(':');
    String port = address.substring(colon + 1);
    if (colon <= 0 || !port.matches("[0-9]{1,5}")) {
      throw Usage.wrong(
          "'" + Output.shown(address) + "' is not HOST:PORT.",
          "Write it like ingest.lanternfish.example:8443 or [2001:db8::17]:8443.");
    }
    return Probe.of(address.substring(0, colon), Integer.parseInt(port));
  }
}
