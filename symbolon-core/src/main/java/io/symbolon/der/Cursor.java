// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.failure.SymbolonException;
import java.util.Optional;

/** Walks the values inside a constructed one, in order. Not thread-safe. */
public final class Cursor {
  private final byte[] bytes;
  private final int limit;
  private final int depth;
  private int at;

  Cursor(byte[] bytes, int from, int limit, int depth) {
    this.bytes = bytes;
    this.at = from;
    this.limit = limit;
    this.depth = depth;
  }

  /** Whether another value follows. */
  public boolean hasNext() {
    return at < limit;
  }

  /**
   * The next value.
   *
   * @throws SymbolonException if there is none or it is malformed
   */
  public Element next() {
    if (at >= limit) {
      throw SymbolonException.malformed("DER data", "At byte " + limit + " a value is missing.");
    }
    Element element = Element.readAt(bytes, at, limit, depth);
    at = element.endOffset();
    return element;
  }

  /** The next value, which must have the tag given. */
  public Element next(int tag) {
    return next().expect(tag);
  }

  /** Whether another value follows and has the tag given. */
  public boolean nextIs(int tag) {
    return at < limit && (bytes[at] & 0xFF) == tag;
  }

  /** The next value if it has the tag given; otherwise nothing is consumed. */
  public Optional<Element> nextIf(int tag) {
    return nextIs(tag) ? Optional.of(next()) : Optional.empty();
  }

  /** Passes over the next value. */
  public void skip() {
    Element unused = next();
  }

  /**
   * Ends the reading.
   *
   * @throws SymbolonException if values are left over
   */
  public void end() {
    if (at < limit) {
      throw SymbolonException.malformed(
          "DER data", "At byte " + at + " there is a value too many in its structure.");
    }
  }
}
