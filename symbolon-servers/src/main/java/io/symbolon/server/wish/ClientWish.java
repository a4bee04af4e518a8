// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.chain.Credential;
import io.symbolon.file.Owner;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * What is wanted of a program that opens connections.
 *
 * @param trust by whom it is to know servers
 * @param credential what it is to show where a server asks
 * @param host the name of the server
 * @param port the server's port
 * @param home where its settings are
 * @param folder where its new files are to go
 * @param name what the settings are to be called, where they have a name
 * @param owner to whom files with secrets are to belong
 * @param form which of several forms its files are to have; as they are now, where that is not said
 */
public record ClientWish(
    List<Certificate> trust,
    Optional<Credential> credential,
    Optional<HostName> host,
    Optional<Integer> port,
    Optional<Path> home,
    Optional<Path> folder,
    Optional<String> name,
    Optional<Owner> owner,
    Optional<String> form) {
  /** Copies the list. */
  public ClientWish {
    trust = List.copyOf(trust);
  }

  /**
   * {@return the wish that a client knows servers by authorities, with nothing else said}
   *
   * @param trust the authorities
   */
  public static ClientWish of(List<Certificate> trust) {
    return new ClientWish(
        trust,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  /**
   * {@return the same with other authorities}
   *
   * @param authorities by whom it is to know servers
   */
  public ClientWish withTrust(List<Certificate> authorities) {
    return changed(draft -> draft.trust = authorities);
  }

  /**
   * {@return the same with what it shows where a server asks}
   *
   * @param shown what it shows where a server asks
   */
  public ClientWish withCredential(Credential shown) {
    return changed(draft -> draft.credential = Optional.of(shown));
  }

  /**
   * {@return the same with the server that it connects to}
   *
   * @param server the server that it connects to
   */
  public ClientWish withHost(HostName server) {
    return changed(draft -> draft.host = Optional.of(server));
  }

  /**
   * {@return the same with the port of that server}
   *
   * @param number the port of that server
   */
  public ClientWish withPort(int number) {
    return changed(draft -> draft.port = Optional.of(number));
  }

  /**
   * {@return the same with the place of its settings}
   *
   * @param where the place of its settings
   */
  public ClientWish withHome(Path where) {
    return changed(draft -> draft.home = Optional.of(where));
  }

  /**
   * {@return the same with the folder for its files}
   *
   * @param where the folder for its files
   */
  public ClientWish withFolder(Path where) {
    return changed(draft -> draft.folder = Optional.of(where));
  }

  /**
   * {@return the same with the name of its settings}
   *
   * @param called the name of its settings
   */
  public ClientWish withName(String called) {
    return changed(draft -> draft.name = Optional.of(called));
  }

  /**
   * {@return the same with the owner of its files}
   *
   * @param account the owner of its files
   */
  public ClientWish withOwner(Owner account) {
    return changed(draft -> draft.owner = Optional.of(account));
  }

  /**
   * {@return the same with one of several forms for its files}
   *
   * @param word the form, one of those that the client has
   */
  public ClientWish withForm(String word) {
    return changed(draft -> draft.form = Optional.of(word));
  }

  private ClientWish changed(Consumer<Draft> change) {
    Draft draft = new Draft(this);
    change.accept(draft);
    return new ClientWish(
        draft.trust,
        draft.credential,
        draft.host,
        draft.port,
        draft.home,
        draft.folder,
        draft.name,
        draft.owner,
        draft.form);
  }

  /** A wish while one thing of it is said anew. */
  private static final class Draft {
    List<Certificate> trust;
    Optional<Credential> credential;
    Optional<HostName> host;
    Optional<Integer> port;
    Optional<Path> home;
    Optional<Path> folder;
    Optional<String> name;
    Optional<Owner> owner;
    Optional<String> form;

    Draft(ClientWish wish) {
      trust = wish.trust;
      credential = wish.credential;
      host = wish.host;
      port = wish.port;
      home = wish.home;
      folder = wish.folder;
      name = wish.name;
      owner = wish.owner;
      form = wish.form;
    }
  }
}
