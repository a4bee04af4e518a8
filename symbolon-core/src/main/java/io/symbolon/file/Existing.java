// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

/** What to do about a file that is already there. */
public enum Existing {
  /** Refuse: nothing is written. */
  KEEP,
  /** Put it aside, where undo finds it, and write the new one in its place. */
  REPLACE
}
