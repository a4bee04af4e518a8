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
import java.util.function.Consumer;

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
 * @param form which of several forms its files are to have; as they are now, where that is not said
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
    List<ClientRole> roles,
    Optional<String> form) {
  /** The versions that are asked for where nothing else is said. */
  public static final List<ProtocolVersion> USUAL_PROTOCOLS =
      List.of(ProtocolVersion.TLS_1_2, ProtocolVersion.TLS_1_3);

  /** Copies the lists. */
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
        List.of(),
        Optional.empty());
  }

  /**
   * {@return the same with whose clients it trusts, and who of them shows a certificate}
   *
   * @param who who shows a certificate
   * @param whom whose clients it trusts
   */
  public Wish withClients(Mode who, ClientTrust whom) {
    return changed(
        draft -> {
          draft.trust = Optional.of(whom);
          draft.mode = Optional.of(who);
        });
  }

  /**
   * {@return the same with another mode}
   *
   * @param who who shows a certificate
   */
  public Wish withMode(Mode who) {
    return changed(draft -> draft.mode = Optional.of(who));
  }

  /** {@return the same with the names by which clients ask for it} */
  public Wish withHosts(List<HostName> names) {
    return changed(draft -> draft.hosts = names);
  }

  /**
   * {@return the same with another port for TLS}
   *
   * @param number the port
   */
  public Wish withPort(int number) {
    return changed(draft -> draft.port = Optional.of(number));
  }

  /**
   * {@return the same with a port in clear text that sends clients to TLS}
   *
   * @param number the port
   */
  public Wish withRedirectFrom(int number) {
    return changed(draft -> draft.redirectFrom = Optional.of(number));
  }

  /** {@return the same with a time for which clients are to insist on TLS} */
  public Wish withStrictTransport(Duration time) {
    return changed(draft -> draft.strictTransport = Optional.of(time));
  }

  /** {@return the same with other protocol versions} */
  public Wish withProtocols(List<ProtocolVersion> versions) {
    return changed(draft -> draft.protocols = versions);
  }

  /**
   * {@return the same with other cipher suites}
   *
   * @param words the suites, in the server's own words
   */
  public Wish withCiphers(String words) {
    return changed(draft -> draft.ciphers = Optional.of(words));
  }

  /**
   * {@return the same with another folder for its files}
   *
   * @param where the folder
   */
  public Wish withFolder(Path where) {
    return changed(draft -> draft.folder = Optional.of(where));
  }

  /**
   * {@return the same with the choice of one of several places}
   *
   * @param name the name of the place
   */
  public Wish withSite(String name) {
    return changed(draft -> draft.site = Optional.of(name));
  }

  /**
   * {@return the same with another owner of its files}
   *
   * @param account the owner
   */
  public Wish withOwner(Owner account) {
    return changed(draft -> draft.owner = Optional.of(account));
  }

  /**
   * {@return the same with roles for the holders of certificates}
   *
   * @param all the roles
   */
  public Wish withRoles(List<ClientRole> all) {
    return changed(draft -> draft.roles = all);
  }

  /**
   * {@return the same with one of several forms for its files}
   *
   * @param word the form, one of {@link Server#forms()}
   */
  public Wish withForm(String word) {
    return changed(draft -> draft.form = Optional.of(word));
  }

  /**
   * {@return the same with what the server is to show}
   *
   * @param shown a credential; several, where it has a key of each type
   */
  public Wish withCredentials(List<Credential> shown) {
    return changed(draft -> draft.credentials = shown);
  }

  /**
   * {@return the same with whose clients it is to trust}
   *
   * @param whom whom it trusts
   */
  public Wish withTrust(ClientTrust whom) {
    return changed(draft -> draft.trust = Optional.of(whom));
  }

  private Wish changed(Consumer<Draft> change) {
    Draft draft = new Draft(this);
    change.accept(draft);
    return new Wish(
        draft.credentials,
        draft.trust,
        draft.mode,
        draft.hosts,
        draft.port,
        draft.redirectFrom,
        draft.strictTransport,
        draft.protocols,
        draft.ciphers,
        draft.folder,
        draft.site,
        draft.owner,
        draft.roles,
        draft.form);
  }

  /** A wish while one thing of it is said anew. */
  private static final class Draft {
    List<Credential> credentials;
    Optional<ClientTrust> trust;
    Optional<Mode> mode;
    List<HostName> hosts;
    Optional<Integer> port;
    Optional<Integer> redirectFrom;
    Optional<Duration> strictTransport;
    List<ProtocolVersion> protocols;
    Optional<String> ciphers;
    Optional<Path> folder;
    Optional<String> site;
    Optional<Owner> owner;
    List<ClientRole> roles;
    Optional<String> form;

    Draft(Wish wish) {
      credentials = wish.credentials;
      trust = wish.trust;
      mode = wish.mode;
      hosts = wish.hosts;
      port = wish.port;
      redirectFrom = wish.redirectFrom;
      strictTransport = wish.strictTransport;
      protocols = wish.protocols;
      ciphers = wish.ciphers;
      folder = wish.folder;
      site = wish.site;
      owner = wish.owner;
      roles = wish.roles;
      form = wish.form;
    }
  }
}
