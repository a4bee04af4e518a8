// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.Path;
import java.util.Optional;

/**
 * A file to write.
 *
 * @param target where to
 * @param content what; not copied
 * @param privacy who may read it
 * @param existing what to do about a file that is there
 * @param owner to whom it shall belong; otherwise to the owner of the file that it replaces, or to
 *     this process's account
 * @param expected what the file that it replaces was when it was read; a file that is another one
 *     by now is not replaced
 * @param undo whether the file that it replaces is kept for undo
 * @param goes whether undo takes it away again where none was there
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
public record FileItem(
    Path target,
    byte[] content,
    Privacy privacy,
    Existing existing,
    Optional<Owner> owner,
    Optional<Snapshot> expected,
    boolean undo,
    boolean goes) {
  /**
   * A file with no wish as to its owner and the file that is there.
   *
   * @param privacy who may read it
   * @param existing what to do about a file that is there
   */
  public FileItem(Path target, byte[] content, Privacy privacy, Existing existing) {
    this(target, content, privacy, existing, Optional.empty(), Optional.empty(), true, false);
  }

  /**
   * {@return the same for an owner}
   *
   * @param owner the owner, where one is given
   */
  public FileItem withOwner(Optional<Owner> owner) {
    return new FileItem(target, content, privacy, existing, owner, expected, undo, goes);
  }

  /**
   * {@return the same in the place of the file that was read}
   *
   * @param expected the file as it was read, where it was
   */
  public FileItem expecting(Optional<Snapshot> expected) {
    return new FileItem(target, content, privacy, existing, owner, expected, undo, goes);
  }

  /** {@return the same with nothing kept of the file that it replaces} */
  public FileItem withoutUndo() {
    return new FileItem(target, content, privacy, existing, owner, expected, false, goes);
  }

  /** {@return the same, taken away again by undo where no file was there} */
  public FileItem goingWithUndo() {
    return new FileItem(target, content, privacy, existing, owner, expected, undo, true);
  }
}
