// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import java.util.Arrays;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;

/**
 * Keys that were derived from one password, so that a file which is written, read again and
 * compared, or read for several purposes, costs one derivation and not many. They live as long as
 * the password itself, whose knowledge is worth more, and are wiped with it. Thread-safe.
 */
final class DerivedKeys {
  private static final int MOST = 64;
  private static final int CHEAP = 1_000; // rounds that are not worth remembering

  private final Map<String, byte[]> known = new LinkedHashMap<>(16, 0.75f, true);
  private boolean wiped;

  /**
   * A derived key, a copy that the caller wipes.
   *
   * @param function what derives it, with everything of its parameters that is not below
   */
  byte[] derived(String function, byte[] salt, int rounds, int length, Supplier<byte[]> derive) {
    if (rounds < CHEAP) {
      return derive.get();
    }
    String name = function + ' ' + rounds + ' ' + length + ' ' + HexFormat.of().formatHex(salt);
    synchronized (this) {
      byte[] key = known.get(name);
      if (key != null) {
        return key.clone();
      }
    }
    byte[] key = derive.get();
    keep(name, key.clone());
    return key;
  }

  private synchronized void keep(String name, byte[] key) {
    if (wiped) {
      Arrays.fill(key, (byte) 0);
      return;
    }
    byte[] before = known.put(name, key);
    if (before != null) {
      Arrays.fill(before, (byte) 0);
    }
    if (known.size() > MOST) {
      String oldest = known.keySet().iterator().next();
      byte[] gone = known.remove(oldest);
      if (gone != null) {
        Arrays.fill(gone, (byte) 0);
      }
    }
  }

  synchronized void wipe() {
    wiped = true;
    known.values().forEach(key -> Arrays.fill(key, (byte) 0));
    known.clear();
  }
}
