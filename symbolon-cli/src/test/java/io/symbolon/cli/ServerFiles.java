// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;

/**
 * The files of a server that asks its clients for a certificate, in PEM.
 *
 * @param folder where they lie, and where the server may write
 * @param key the open key
 * @param chain the certificate, with its chain
 * @param trust the authorities of the clients
 * @param lists revocation lists; an empty file where there are none
 */
record ServerFiles(Path folder, Path key, Path chain, Path trust, Path lists) {
  boolean hasLists() throws IOException {
    return Files.size(lists) > 0;
  }

  /** A folder below, for what the server writes itself. */
  Path own(String name) throws IOException {
    return Files.createDirectories(folder.resolve(name));
  }

  /** Lets a server through that gives up the rights of the account it is started by. */
  void open() throws IOException {
    Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx--x--x"));
  }

  /** Settings in a file, with the places of everything filled in. */
  Path settings(String name, int port, String text) throws IOException {
    return Files.writeString(
        folder.resolve(name),
        text.replace("{folder}", folder.toString())
            .replace("{port}", Integer.toString(port))
            .replace("{key}", key.toString())
            .replace("{chain}", chain.toString())
            .replace("{trust}", trust.toString())
            .replace("{lists}", lists.toString()));
  }
}
