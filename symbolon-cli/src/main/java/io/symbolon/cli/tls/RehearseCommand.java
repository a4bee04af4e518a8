// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.document.RehearseDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
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
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

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
    RehearseJob job = RehearseJob.of(given);
    RehearsedPairs pairs = pairs(invocation, job);
    RehearsalText text =
        new RehearsalText(invocation.output(), pairs, job.host().map(HostName::typed).orElse(""));
    if (invocation.output().isJson()) {
      invocation.output().json(RehearseDocument.of(pairs, invocation.output().commands()));
    } else if (pairs.reports().size() > 1) {
      text.matrix();
    } else {
      text.one();
    }
    return pairs.isAccepted() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static RehearsedPairs pairs(Invocation invocation, RehearseJob job) {
    List<Finding> fileFindings = new ArrayList<>();
    RehearsalFiles files = new RehearsalFiles(invocation, job.unlock(), fileFindings);
    Optional<List<Certificate>> serverTrust = files.trust(job.serverTrust());
    Optional<List<Certificate>> clientTrust = files.trust(job.clientTrust());
    List<Party> servers = with(files.credentials(job.server()), serverTrust, job.serverTrust());
    if (servers.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of --server hold no private key with its certificate.",
          "Name the server's keystore, or its key and certificate.");
    }
    List<Party> clients = files.credentials(job.client());
    if (clients.isEmpty()) {
      if (!job.client().isEmpty()) {
        throw new SymbolonException(
            Reason.NOT_FOUND,
            "There is no client to rehearse with.",
            "The files of --client hold no private key with its certificate.",
            "Name the client's keystore, or leave --client out for a client without one.");
      }
      clients = List.of(Party.nobody("client"));
    }
    Set<Party.Trait> glued = files.trustTraits(job.serverTrust());
    servers = servers.stream().map(server -> server.withMoreTraits(glued)).toList();
    clients = with(clients, clientTrust, job.clientTrust());
    fileFindings.addAll(invocation.notices());
    Rehearsal rehearsal =
        rehearsal(job)
            .withRevocationLists(Side.SERVER, files.lists(job.serverTrust()))
            .withRevocationLists(Side.CLIENT, files.lists(job.clientTrust()));
    return rehearsal.all(servers, clients, job.everyPair(), fileFindings);
  }

  private static List<Party> with(
      List<Party> parties, Optional<List<Certificate>> trust, List<Path> files) {
    return trust
        .map(some -> parties.stream().map(party -> party.withTrust(some, files)).toList())
        .orElse(parties);
  }

  private static Rehearsal rehearsal(RehearseJob job) {
    Rehearsal rehearsal =
        job.optionalClients() ? Rehearsal.create().withOptionalClients() : Rehearsal.create();
    if (job.host().isPresent()) {
      rehearsal = rehearsal.withHost(job.host().get());
    }
    return job.at().isPresent() ? rehearsal.at(job.at().get()) : rehearsal;
  }
}
