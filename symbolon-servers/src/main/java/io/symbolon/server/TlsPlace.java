// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.probe.StartWith;
import java.util.List;
import java.util.Optional;

/**
 * A place of a server's settings where it speaks TLS, or could: a connector, a site, a listener, a
 * bundle.
 *
 * @param name the name by which it is chosen
 * @param kind what the server's own documents call it, such as {@code server block}
 * @param origin where it stands
 * @param endpoints the addresses it listens on
 * @param mode who shows a certificate
 * @param hosts the names that clients ask for, as the settings have them
 * @param files the files that it names
 * @param protocols the protocol versions that are in force, as the server writes them; nothing
 *     where no setting says so
 * @param ciphers the cipher suites that are in force, as the server writes them
 * @param account the account that reads its files
 * @param depth how many certificates may stand above a client's; nothing where nothing limits it
 * @param startWith what speaks in clear text before TLS
 */
public record TlsPlace(
    String name,
    String kind,
    Origin origin,
    List<Endpoint> endpoints,
    Mode mode,
    List<String> hosts,
    List<UsedFile> files,
    Optional<String> protocols,
    Optional<String> ciphers,
    Optional<String> account,
    Optional<Integer> depth,
    Optional<StartWith> startWith) {
  /** Copies the lists. */
  public TlsPlace {
    endpoints = List.copyOf(endpoints);
    hosts = List.copyOf(hosts);
    files = List.copyOf(files);
  }

  /** {@return the files of a role} */
  public List<UsedFile> files(FileRole role) {
    return files.stream().filter(file -> file.role() == role).toList();
  }

  /** {@return whether it speaks TLS} */
  public boolean isTls() {
    return mode != Mode.CLEAR;
  }
}
