// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.wire.AccountKey;
import java.net.URI;
import java.util.Optional;

/**
 * An account, as it is.
 *
 * @param folder its folder
 * @param address its address at the authority; nothing where that was not asked
 * @param key the key that it has; nothing where it was not opened
 * @param outcome what was done
 */
public record AccountReport(
    AccountFolder folder, Optional<URI> address, Optional<AccountKey> key, Outcome outcome) {
  /** What can be done with an account. */
  public enum Outcome {
    /** Nothing was changed. */
    SHOWN,
    /** It has other contacts, or another key. */
    CHANGED,
    /** Nothing more can be ordered with it. */
    GIVEN_UP,
    /** Something of it is not tried any more. */
    FORGOTTEN
  }
}
