// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.document.RehearseDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsedPairs;
import io.symbolon.task.rehearse.RehearseJob;
import io.symbolon.x509.HostName;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.Optional;

/** {@code symbolon rehearse}. */
public final class RehearseCommand {
  private RehearseCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .none()
        .several("server", "FILE...", "The server's files: its key, its certificate and its chain.")
        .several(
            "server-trust",
            "FILE...",
            "Whose clients the server trusts, and its revocation lists. With it, the server requires"
                + " a client's certificate.")
        .value(
            "clients",
            "WAY",
            "Whether the server requires a client's certificate: required (default), or optional"
                + " where it asks and lets a client without one in.")
        .several("client", "FILE...", "The client's files, for mutual TLS.")
        .several("client-trust", "FILE...", "Whom the client trusts.")
        .value("host", "NAME", "The name by which the client asks for the server.")
        .value(
            "at",
            "DATE",
            "Rehearse as if it were that day, such as 2027-03-01, or moment, such as"
                + " 2027-03-01T12:00:00Z.")
        .flag(
            "every-pair",
            "A handshake for each pair, also where there are more than "
                + Rehearsal.MANY
                + " of them.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    Optional<HostName> host = given.value("host").map(GivenOptions::oneHost);
    RehearsedPairs pairs = job(given, host).run(invocation.task());
    RehearsalText text =
        new RehearsalText(invocation.output(), pairs, host.map(HostName::typed).orElse(""));
    if (invocation.output().isJson()) {
      invocation.output().json(RehearseDocument.of(pairs, invocation.output().commands()));
    } else if (pairs.reports().size() > 1) {
      text.matrix();
    } else {
      text.one();
    }
    return pairs.isAccepted() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static RehearseJob job(GivenOptions given, Optional<HostName> host) {
    RehearseJob.Builder job =
        RehearseJob.of(given.paths("server"))
            .serverTrust(given.paths("server-trust"))
            .client(given.paths("client"))
            .clientTrust(given.paths("client-trust"))
            .unlock(given.unlock());
    String word = given.value("clients").orElse("required");
    if (!word.equals("required") && !word.equals("optional")) {
      throw Usage.wrong(
          "A server asks for clients' certificates in no way '" + Output.shown(word) + "'.",
          "Say --clients required or --clients optional.");
    }
    if (word.equals("optional")) {
      job.optionalClients();
    }
    if (given.has("every-pair")) {
      job.everyPair();
    }
    host.ifPresent(job::host);
    given.value("at").map(RehearseCommand::moment).ifPresent(job::at);
    return job.build();
  }

  private static Instant moment(String text) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).atTime(12, 0).toInstant(ZoneOffset.UTC);
    } catch (DateTimeParseException e) {
      throw Usage.wrong(
          "'" + Output.shown(text) + "' is not a date.",
          "Write it like 2027-03-01 (noon in UTC) or 2027-03-01T12:00:00Z.");
    }
  }
}
