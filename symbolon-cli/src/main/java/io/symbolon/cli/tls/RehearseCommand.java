// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.document.RehearseDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsedPairs;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
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

  public static int run(Invocation invocation) {
    if (invocation.values("server").isEmpty()) {
      throw Invocation.usage(
          "No server is given.",
          "Name its files with --server FILE..., and the client's with --client-trust FILE... and,"
              + " for mutual TLS, --client FILE...");
    }
    List<Finding> fileFindings = new ArrayList<>();
    RehearsalFiles files = new RehearsalFiles(invocation, fileFindings);
    Optional<List<Certificate>> serverTrust = files.trust("server-trust");
    Optional<List<Certificate>> clientTrust = files.trust("client-trust");
    List<Party> servers =
        with(files.credentials("server"), serverTrust, paths(invocation, "server-trust"));
    if (servers.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of --server hold no private key with its certificate.",
          "Name the server's keystore, or its key and certificate.");
    }
    List<Party> clients = files.credentials("client");
    if (clients.isEmpty()) {
      if (!invocation.values("client").isEmpty()) {
        throw new SymbolonException(
            Reason.NOT_FOUND,
            "There is no client to rehearse with.",
            "The files of --client hold no private key with its certificate.",
            "Name the client's keystore, or leave --client out for a client without one.");
      }
      clients = List.of(Party.nobody("client"));
    }
    clients = with(clients, clientTrust, paths(invocation, "client-trust"));
    fileFindings.addAll(invocation.notices());
    Rehearsal rehearsal =
        rehearsal(invocation)
            .withRevocationLists(Side.SERVER, files.lists("server-trust"))
            .withRevocationLists(Side.CLIENT, files.lists("client-trust"));
    RehearsedPairs pairs =
        rehearsal.all(servers, clients, invocation.has("every-pair"), fileFindings);
    RehearsalText text =
        new RehearsalText(invocation.output(), pairs, invocation.value("host").orElse(""));
    if (invocation.output().isJson()) {
      invocation.output().json(RehearseDocument.of(pairs, invocation.output().commands()));
    } else if (pairs.reports().size() > 1) {
      text.matrix();
    } else {
      text.one();
    }
    return pairs.isAccepted() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static List<Party> with(
      List<Party> parties, Optional<List<Certificate>> trust, List<Path> files) {
    return trust
        .map(some -> parties.stream().map(party -> party.withTrust(some, files)).toList())
        .orElse(parties);
  }

  private static Rehearsal rehearsal(Invocation invocation) {
    Rehearsal rehearsal = Rehearsal.create();
    Optional<HostName> host = invocation.value("host").map(Invocation::oneHost);
    if (host.isPresent()) {
      rehearsal = rehearsal.withHost(host.get());
    }
    Optional<String> at = invocation.value("at");
    return at.isPresent() ? rehearsal.at(moment(at.get())) : rehearsal;
  }

  private static Instant moment(String text) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).atTime(12, 0).toInstant(ZoneOffset.UTC);
    } catch (DateTimeParseException e) {
      throw Invocation.usage(
          "'" + Output.shown(text) + "' is no date.",
          "Write it like 2027-03-01 (noon in UTC) or 2027-03-01T12:00:00Z.");
    }
  }

  static List<Path> paths(Invocation invocation, String option) {
    return invocation.values(option).stream().map(Invocation::path).toList();
  }
}
