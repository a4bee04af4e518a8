// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.util.HashSet;
import java.util.Set;
import java.util.TreeMap;

/** What is wrong in a description, with its lines, gathered until all of it was read. */
final class Mistakes {
  private static final int SHOWN = 20;

  private final String file;
  private final TreeMap<Integer, StringBuilder> byLine = new TreeMap<>();
  private final Set<String> known = new HashSet<>();
  private int count;

  Mistakes(String file) {
    this.file = file;
  }

  /** Notes a mistake; the same of the same line once, however often it is read. */
  void add(int line, String what) {
    if (known.add(line + what) && ++count <= SHOWN) {
      StringBuilder text = byLine.computeIfAbsent(line, one -> new StringBuilder());
      text.append(text.isEmpty() ? "Line " + line + ": " : " ").append(what);
    }
  }

  boolean isEmpty() {
    return count == 0;
  }

  SymbolonException failure() {
    String more = count > SHOWN ? " And " + (count - SHOWN) + " more." : "";
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The description in " + VisibleText.of(file) + " can't be used.",
        String.join(" ", byLine.values()) + more,
        "Correct the file; docs/describing-a-server.md tells what may be in it.");
  }

  void throwIfAny() {
    if (!isEmpty()) {
      throw failure();
    }
  }
}
