// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.file.Owner;
import io.symbolon.file.Privacy;
import io.symbolon.file.Snapshot;
import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * A file that is to be made or replaced.
 *
 * @param before what it holds now; nothing where there is none
 * @param snapshot what tells that it is still that file
 * @param after what it is to hold
 * @param settings whether it is text to be shown; the content of others is described alone
 * @param holds what it is to hold, as words such as {@code the private key}
 * @param privacy who may read it
 * @param owner to whom it is to belong; nobody else than now where not said
 * @param hidden values in it that are not shown with what changes, such as passwords
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
    Optional<Owner> owner,
    List<Secret> hidden) {
  /** Copies the hidden values. */
  public FileChange {
    hidden = List.copyOf(hidden);
  }

  /**
   * A change without hidden values.
   *
   * @param before what it holds now
   * @param snapshot what tells that it is still that file
   * @param after what it is to hold
   * @param settings whether it is text to be shown
   * @param holds what it is to hold, as words
   * @param privacy who may read it
   * @param owner to whom it is to belong
   */
  public FileChange(
      Path path,
      Optional<byte[]> before,
      Optional<Snapshot> snapshot,
      byte[] after,
      boolean settings,
      String holds,
      Privacy privacy,
      Optional<Owner> owner) {
    this(path, before, snapshot, after, settings, holds, privacy, owner, List.of());
  }

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

  /**
   * {@return the same for its owner alone}
   *
   * @param whose to whom it is to belong
   */
  public FileChange forOwner(Optional<Owner> whose) {
    return new FileChange(
        path, before, snapshot, after, settings, holds, Privacy.OWNER_ONLY, whose, hidden);
  }

  /** {@return the same with values that are not shown with what changes} */
  public FileChange hiding(List<Secret> values) {
    return new FileChange(path, before, snapshot, after, settings, holds, privacy, owner, values);
  }

  /** {@return the same as a settings file, which goes with undo where it was not there before} */
  public FileChange asSettings() {
    return new FileChange(path, before, snapshot, after, true, holds, privacy, owner, hidden);
  }

  /** {@return whether the file already holds that} */
  public boolean isNothing() {
    return before.isPresent() && Arrays.equals(before.get(), after);
  }
}
