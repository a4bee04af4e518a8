// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.chain.Credential;
import io.symbolon.file.Owner;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.server.place.Mode;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/** What is wanted of a server at one place. Immutable; each {@code with} gives another one. */
public final class Wish {
  /** The versions that are asked for where nothing else is said. */
  public static final List<ProtocolVersion> USUAL_PROTOCOLS =
      List.of(ProtocolVersion.TLS_1_2, ProtocolVersion.TLS_1_3);

  private final Draft own;

  private Wish(Draft own) {
    this.own = own;
  }

  /**
   * {@return the wish that a server shows a credential, with nothing else said}
   *
   * @param credentials what it is to show; several where it has a key of each type
   */
  public static Wish of(Credential... credentials) {
    Draft draft = new Draft();
    draft.credentials = List.of(credentials);
    return new Wish(draft);
  }

  /** {@return what it is to show; several where it has a key of each type} */
  public List<Credential> credentials() {
    return own.credentials;
  }

  /** {@return whose clients it is to trust} */
  public Optional<ClientTrust> trust() {
    return own.trust;
  }

  /**
   * {@return who is to show a certificate; as it is now, where that is not said: nobody stops
   * asking clients by the way}
   */
  public Optional<Mode> mode() {
    return own.mode;
  }

  /** {@return the names by which clients ask for it} */
  public List<HostName> hosts() {
    return own.hosts;
  }

  /** {@return the port for TLS} */
  public Optional<Integer> port() {
    return own.port;
  }

  /** {@return the port in clear text that sends clients to TLS} */
  public Optional<Integer> redirectFrom() {
    return own.redirectFrom;
  }

  /** {@return how long clients are to insist on TLS} */
  public Optional<Duration> strictTransport() {
    return own.strictTransport;
  }

  /** {@return the protocol versions that it takes; none where they are to stay as they are} */
  public List<ProtocolVersion> protocols() {
    return own.protocols;
  }

  /** {@return the cipher suites, in the server's own words} */
  public Optional<String> ciphers() {
    return own.ciphers;
  }

  /** {@return where its files are to go} */
  public Optional<Path> folder() {
    return own.folder;
  }

  /** {@return which of several places is meant} */
  public Optional<String> site() {
    return own.site;
  }

  /** {@return which places may change otherwise than it is wished for} */
  public List<String> mayChange() {
    return own.mayChange;
  }

  /** {@return to whom its files are to belong} */
  public Optional<Owner> owner() {
    return own.owner;
  }

  /** {@return whom it is to take the holders of certificates for} */
  public List<ClientRole> roles() {
    return own.roles;
  }

  /**
   * {@return which of several forms its files are to have; as they are now, where that is not said}
   */
  public Optional<String> form() {
    return own.form;
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
    return changed(draft -> draft.hosts = List.copyOf(names));
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
    return changed(draft -> draft.protocols = List.copyOf(versions));
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

  /** {@return the same without the choice of a place} */
  public Wish withoutSite() {
    return changed(draft -> draft.site = Optional.empty());
  }

  /**
   * {@return the same with places that may change otherwise than it is wished for}
   *
   * @param names their names
   */
  public Wish withMayChange(List<String> names) {
    return changed(draft -> draft.mayChange = List.copyOf(names));
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
    return changed(draft -> draft.roles = List.copyOf(all));
  }

  /**
   * {@return the same with one of several forms for its files}
   *
   * @param word the form, one of those that the server has
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
    return changed(draft -> draft.credentials = List.copyOf(shown));
  }

  /**
   * {@return the same with whose clients it is to trust}
   *
   * @param whom whom it trusts
   */
  public Wish withTrust(ClientTrust whom) {
    return changed(draft -> draft.trust = Optional.of(whom));
  }

  /**
   * {@return the versions that are to be written; nothing where the settings are to stay as they
   * are}
   *
   * @param answers whether the place speaks TLS already: then it goes on as it does, unless
   *     something else is wanted
   */
  public Optional<List<ProtocolVersion>> versions(boolean answers) {
    if (!protocols().isEmpty()) {
      return Optional.of(protocols());
    }
    return answers ? Optional.empty() : Optional.of(USUAL_PROTOCOLS);
  }

  /**
   * {@return the names of versions as most servers write them}
   *
   * @param between what stands between two
   */
  public static String words(Collection<ProtocolVersion> versions, String between) {
    return versions.stream()
        .sorted()
        .map(ProtocolVersion::platformName)
        .collect(Collectors.joining(between));
  }

  private Wish changed(Consumer<Draft> change) {
    Draft draft = new Draft(own);
    change.accept(draft);
    return new Wish(draft);
  }

  /** A wish while one thing of it is said anew; not changed any more when it is a wish. */
  private static final class Draft {
    List<Credential> credentials = List.of();
    Optional<ClientTrust> trust = Optional.empty();
    Optional<Mode> mode = Optional.empty();
    List<HostName> hosts = List.of();
    Optional<Integer> port = Optional.empty();
    Optional<Integer> redirectFrom = Optional.empty();
    Optional<Duration> strictTransport = Optional.empty();
    List<ProtocolVersion> protocols = List.of();
    Optional<String> ciphers = Optional.empty();
    Optional<Path> folder = Optional.empty();
    Optional<String> site = Optional.empty();
    List<String> mayChange = List.of();
    Optional<Owner> owner = Optional.empty();
    List<ClientRole> roles = List.of();
    Optional<String> form = Optional.empty();

    Draft() {}

    Draft(Draft other) {
      credentials = List.copyOf(other.credentials);
      trust = other.trust;
      mode = other.mode;
      hosts = List.copyOf(other.hosts);
      port = other.port;
      redirectFrom = other.redirectFrom;
      strictTransport = other.strictTransport;
      protocols = List.copyOf(other.protocols);
      ciphers = other.ciphers;
      folder = other.folder;
      site = other.site;
      mayChange = List.copyOf(other.mayChange);
      owner = other.owner;
      roles = List.copyOf(other.roles);
      form = other.form;
    }
  }
}
