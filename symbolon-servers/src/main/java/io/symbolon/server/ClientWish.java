// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.chain.Credential;
import io.symbolon.file.Owner;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

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
 */
public record ClientWish(
    List<Certificate> trust,
    Optional<Credential> credential,
    Optional<HostName> host,
    Optional<Integer> port,
    Optional<Path> home,
    Optional<Path> folder,
    Optional<String> name,
    Optional<Owner> owner) {
  /**
   * Copies the list.
   *
   * @param trust by whom it knows servers
   * @param credential what it shows
   * @param host the server
   * @param port the port
   * @param home where its settings are
   * @param folder where its files go
   * @param name what the settings are called
   * @param owner to whom files belong
   */
  public ClientWish {
    trust = List.copyOf(trust);
  }
}
