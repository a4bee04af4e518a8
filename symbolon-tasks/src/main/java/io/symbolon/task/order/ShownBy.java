// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.file.WrittenItem;
import java.nio.file.Path;
import java.util.List;

/**
 * A server that was given the certificate that was ordered.
 *
 * @param server the server's name as its makers write it
 * @param site which of its places
 * @param home where its settings are
 * @param seen whether the running server was seen to show it
 * @param written what was written for it
 * @param accounts the folders of the accounts whose renewals reach it
 */
public record ShownBy(
    String server,
    String site,
    Path home,
    boolean seen,
    List<WrittenItem> written,
    List<Path> accounts) {
  /** Copies the lists. */
  public ShownBy {
    written = List.copyOf(written);
    accounts = List.copyOf(accounts);
  }
}
