// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.join.JoinOptions;
import io.symbolon.task.PasswordSource;
import java.nio.file.Path;
import java.util.List;

/**
 * The files that a change of a server is made of.
 *
 * @param credential what the server is to show: its key and certificates
 * @param clientTrust whose clients it is to trust, and their revocation lists
 * @param clients the files of clients to rehearse and to probe with
 * @param roles whom the server is to take the holders of certificates for
 * @param chains what is accepted of a chain that is not proven up to its root
 * @param unlock the sources of passwords to try
 */
public record NamedFiles(
    List<Path> credential,
    List<Path> clientTrust,
    List<Path> clients,
    List<RoleFile> roles,
    JoinOptions chains,
    List<PasswordSource> unlock) {
  /** Copies the lists. */
  public NamedFiles {
    credential = List.copyOf(credential);
    clientTrust = List.copyOf(clientTrust);
    clients = List.copyOf(clients);
    roles = List.copyOf(roles);
    unlock = List.copyOf(unlock);
  }

  /**
   * {@return the files of what a server shows}
   *
   * @param credential its key and certificates
   */
  public static NamedFiles of(Path... credential) {
    return new NamedFiles(
        List.of(credential), List.of(), List.of(), List.of(), JoinOptions.standard(), List.of());
  }

  /** {@return the same with whose clients it is to trust} */
  public NamedFiles trusting(Path... files) {
    return new NamedFiles(credential, List.of(files), clients, roles, chains, unlock);
  }

  /** {@return the same with clients to rehearse and to probe with} */
  public NamedFiles rehearsing(Path... files) {
    return new NamedFiles(credential, clientTrust, List.of(files), roles, chains, unlock);
  }

  /** {@return the same with passwords to try} */
  public NamedFiles unlocking(PasswordSource... sources) {
    return new NamedFiles(credential, clientTrust, clients, roles, chains, List.of(sources));
  }

  /** A role, and the file with the certificate of whoever has it. */
  public record RoleFile(String role, Path file) {}
}
