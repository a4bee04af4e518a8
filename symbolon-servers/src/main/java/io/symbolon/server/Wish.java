// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.chain.Credential;
import io.symbolon.file.Owner;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What is wanted of a server at one place.
 *
 * @param credentials what it is to show; several where it has a key of each type
 * @param trust whose clients it is to trust
 * @param mode who is to show a certificate; as it is now, where that is not said: nobody stops
 *     asking clients by the way
 * @param hosts the names by which clients ask for it
 * @param port the port for TLS
 * @param redirectFrom the port in clear text that sends clients to TLS
 * @param strictTransport how long clients are to insist on TLS
 * @param protocols the protocol versions that it takes
 * @param ciphers the cipher suites, in the server's own words
 * @param folder where its files are to go
 * @param site which of several places is meant
 * @param owner to whom its files are to belong
 */
public record Wish(
    List<Credential> credentials,
    Optional<ClientTrust> trust,
    Optional<Mode> mode,
    List<HostName> hosts,
    Optional<Integer> port,
    Optional<Integer> redirectFrom,
    Optional<Duration> strictTransport,
    List<ProtocolVersion> protocols,
    Optional<String> ciphers,
    Optional<Path> folder,
    Optional<String> site,
    Optional<Owner> owner) {
  /** The versions that are asked for where nothing else is said. */
  public static final List<ProtocolVersion> USUAL_PROTOCOLS =
      List.of(ProtocolVersion.TLS_1_2, ProtocolVersion.TLS_1_3);

  /**
   * Copies the lists.
   *
   * @param credentials what it shows
   * @param trust whom it trusts
   * @param mode who shows a certificate
   * @param hosts the names
   * @param port the port
   * @param redirectFrom the port in clear text
   * @param strictTransport how long clients insist
   * @param protocols the versions
   * @param ciphers the suites
   * @param folder the folder
   * @param site the place
   * @param owner the owner
   */
  public Wish {
    credentials = List.copyOf(credentials);
    hosts = List.copyOf(hosts);
    protocols = List.copyOf(protocols);
  }
}
