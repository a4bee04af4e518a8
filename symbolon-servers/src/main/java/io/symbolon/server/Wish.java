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
 * @param roles whom it is to take the holders of certificates for
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
    Optional<Owner> owner,
    List<ClientRole> roles) {
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
   * @param roles the roles
   */
  public Wish {
    credentials = List.copyOf(credentials);
    hosts = List.copyOf(hosts);
    protocols = List.copyOf(protocols);
    roles = List.copyOf(roles);
  }

  /**
   * {@return the wish that a server shows a credential, with nothing else said}
   *
   * @param credentials what it is to show; several where it has a key of each type
   */
  public static Wish of(Credential... credentials) {
    return new Wish(
        List.of(credentials),
        Optional.empty(),
        Optional.empty(),
        List.of(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        USUAL_PROTOCOLS,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.of());
  }

  /**
   * {@return the same with whose clients it trusts, and who of them shows a certificate}
   *
   * @param who who shows a certificate
   * @param whom whose clients it trusts
   */
  public Wish withClients(Mode who, ClientTrust whom) {
    return new Wish(
        credentials,
        Optional.of(whom),
        Optional.of(who),
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with another mode}
   *
   * @param who who shows a certificate
   */
  public Wish withMode(Mode who) {
    return new Wish(
        credentials,
        trust,
        Optional.of(who),
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with the names by which clients ask for it}
   *
   * @param names the names
   */
  public Wish withHosts(List<HostName> names) {
    return new Wish(
        credentials,
        trust,
        mode,
        names,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with another port for TLS}
   *
   * @param number the port
   */
  public Wish withPort(int number) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        Optional.of(number),
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with a port in clear text that sends clients to TLS}
   *
   * @param number the port
   */
  public Wish withRedirectFrom(int number) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        Optional.of(number),
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with a time for which clients are to insist on TLS}
   *
   * @param time the time
   */
  public Wish withStrictTransport(Duration time) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        Optional.of(time),
        protocols,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with other protocol versions}
   *
   * @param versions the versions
   */
  public Wish withProtocols(List<ProtocolVersion> versions) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        versions,
        ciphers,
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with other cipher suites}
   *
   * @param words the suites, in the server's own words
   */
  public Wish withCiphers(String words) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        Optional.of(words),
        folder,
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with another folder for its files}
   *
   * @param where the folder
   */
  public Wish withFolder(Path where) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        Optional.of(where),
        site,
        owner,
        roles);
  }

  /**
   * {@return the same with the choice of one of several places}
   *
   * @param name the name of the place
   */
  public Wish withSite(String name) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        Optional.of(name),
        owner,
        roles);
  }

  /**
   * {@return the same with another owner of its files}
   *
   * @param account the owner
   */
  public Wish withOwner(Owner account) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        Optional.of(account),
        roles);
  }

  /**
   * {@return the same with roles for the holders of certificates}
   *
   * @param all the roles
   */
  public Wish withRoles(List<ClientRole> all) {
    return new Wish(
        credentials,
        trust,
        mode,
        hosts,
        port,
        redirectFrom,
        strictTransport,
        protocols,
        ciphers,
        folder,
        site,
        owner,
        all);
  }
}
