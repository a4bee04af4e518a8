// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.rehearse;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsedPairs;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Lets a server's files and a client's files shake hands in memory, each with each. */
public final class RehearseJob {
  private final List<Path> server;
  private final List<Path> serverTrust;
  private final List<Path> client;
  private final List<Path> clientTrust;
  private final boolean optionalClients;
  private final Optional<HostName> host;
  private final Optional<Instant> at;
  private final boolean everyPair;
  private final List<PasswordSource> unlock;

  private RehearseJob(Builder builder) {
    this.server = builder.server;
    this.serverTrust = builder.serverTrust;
    this.client = builder.client;
    this.clientTrust = builder.clientTrust;
    this.optionalClients = builder.optionalClients;
    this.host = Optional.ofNullable(builder.host);
    this.at = Optional.ofNullable(builder.at);
    this.everyPair = builder.everyPair;
    this.unlock = List.copyOf(builder.unlock);
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param server the files of the server's key and certificates
   */
  public static Builder of(Collection<Path> server) {
    return new Builder(server);
  }

  /**
   * Reads the files and rehearses.
   *
   * @param run what it is done in
   * @return each pair, with what happened
   * @throws SymbolonException if there is no server, or a file can't be read
   */
  public RehearsedPairs run(TaskRun run) {
    List<Finding> fileFindings = new ArrayList<>();
    RehearsalFiles files = new RehearsalFiles(run, unlock, fileFindings);
    Optional<List<Certificate>> trustOfServer = files.trust(serverTrust);
    Optional<List<Certificate>> trustOfClient = files.trust(clientTrust);
    List<Party> servers = with(files.credentials(server), trustOfServer, serverTrust);
    if (servers.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no server to rehearse with.",
          "The files of " + Input.SERVER.mention() + " hold no private key with its certificate.",
          "Name the server's keystore, or its key and certificate.");
    }
    List<Party> clients = files.credentials(client);
    if (clients.isEmpty()) {
      if (!client.isEmpty()) {
        throw new SymbolonException(
            Reason.NOT_FOUND,
            "There is no client to rehearse with.",
            "The files of " + Input.CLIENT.mention() + " hold no private key with its certificate.",
            "Name the client's keystore, or leave "
                + Input.CLIENT.mention()
                + " out for a client without one.");
      }
      clients = List.of(Party.nobody("client"));
    }
    Set<Party.Trait> glued = files.trustTraits(serverTrust);
    servers = servers.stream().map(one -> one.withMoreTraits(glued)).toList();
    clients = with(clients, trustOfClient, clientTrust);
    fileFindings.addAll(run.notices());
    Rehearsal rehearsal =
        rehearsal()
            .withRevocationLists(Side.SERVER, files.lists(serverTrust))
            .withRevocationLists(Side.CLIENT, files.lists(clientTrust));
    return rehearsal.all(servers, clients, everyPair, fileFindings);
  }

  private static List<Party> with(
      List<Party> parties, Optional<List<Certificate>> trust, List<Path> files) {
    return trust
        .map(some -> parties.stream().map(party -> party.withTrust(some, files)).toList())
        .orElse(parties);
  }

  private Rehearsal rehearsal() {
    Rehearsal rehearsal =
        optionalClients ? Rehearsal.create().withOptionalClients() : Rehearsal.create();
    if (host.isPresent()) {
      rehearsal = rehearsal.withHost(host.get());
    }
    return at.isPresent() ? rehearsal.at(at.get()) : rehearsal;
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> server;
    private List<Path> serverTrust = List.of();
    private List<Path> client = List.of();
    private List<Path> clientTrust = List.of();
    private boolean optionalClients;
    private @Nullable HostName host;
    private @Nullable Instant at;
    private boolean everyPair;
    private final List<PasswordSource> unlock = new ArrayList<>();

    private Builder(Collection<Path> server) {
      this.server = List.copyOf(server);
    }

    /** Whose clients the server trusts; it asks for their certificates then. */
    public Builder serverTrust(Collection<Path> files) {
      serverTrust = List.copyOf(files);
      return this;
    }

    /** The files of the client's key and certificates. */
    public Builder client(Collection<Path> files) {
      client = List.copyOf(files);
      return this;
    }

    /** Whom the client trusts. */
    public Builder clientTrust(Collection<Path> files) {
      clientTrust = List.copyOf(files);
      return this;
    }

    /** The server asks for a client's certificate and requires none. */
    public Builder optionalClients() {
      optionalClients = true;
      return this;
    }

    /** The name by which the client asks for the server. */
    public Builder host(HostName name) {
      host = name;
      return this;
    }

    /** The moment that is rehearsed; now, where it is not said. */
    public Builder at(Instant moment) {
      at = moment;
      return this;
    }

    /** Each pair gets a handshake, however many there are. */
    public Builder everyPair() {
      everyPair = true;
      return this;
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /**
     * {@return the job}
     *
     * @throws WrongJob if no server is said, or clients are optional for a server that asks none
     */
    public RehearseJob build() {
      if (server.isEmpty()) {
        throw new WrongJob(
            "No server is given.",
            "Name its files with "
                + Input.SERVER.mention("FILE...")
                + ", and the client's with "
                + Input.CLIENT_TRUST.mention("FILE...")
                + " and, for mutual TLS, "
                + Input.CLIENT.mention("FILE..."));
      }
      if (optionalClients && serverTrust.isEmpty()) {
        throw new WrongJob(
            Input.CLIENTS.mention("optional") + " is for a server that asks for certificates.",
            "Give the server's trust as well: " + Input.SERVER_TRUST.mention("FILE..."));
      }
      return new RehearseJob(this);
    }
  }
}
