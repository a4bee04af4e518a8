// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.file.Owner;
import io.symbolon.file.Privacy;
import io.symbolon.file.Snapshot;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;

/**
 * A file that is to be made or replaced.
 *
 * @param path where it is
 * @param before what it holds now; nothing where there is none
 * @param snapshot what tells that it is still that file
 * @param after what it is to hold
 * @param settings whether it is text to be shown; the content of others is described alone
 * @param holds what it is to hold, as words such as {@code the private key}
 * @param privacy who may read it
 * @param owner to whom it is to belong; nobody else than now where not said
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
public record FileChange(
    Path path,
    Optional<byte[]> before,
    Optional<Snapshot> snapshot,
    byte[] after,
    boolean settings,
    String holds,
    Privacy privacy,
    Optional<Owner> owner) {
  /**
   * {@return a new settings file}
   *
   * @param path where it will be
   * @param content what it is to hold
   */
  public static FileChange newSettings(Path path, byte[] content) {
    return new FileChange(
        path,
        Optional.empty(),
        Optional.empty(),
        content,
        true,
        "settings",
        Privacy.SYSTEM_DEFAULT,
        Optional.empty());
  }

  /** {@return whether the file already holds that} */
  public boolean isNothing() {
    return before.isPresent() && Arrays.equals(before.get(), after);
  }
}
