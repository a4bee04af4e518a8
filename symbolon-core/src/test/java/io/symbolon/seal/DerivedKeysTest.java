// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import io.symbolon.fixture.Lanternfish;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

/** A key is derived once, for one function, salt, count and spelling, and wiped with its secret. */
class DerivedKeysTest {
  private static final byte[] SALT = {1, 2, 3};

  private final AtomicInteger times = new AtomicInteger();

  private byte[] derive() {
    return new byte[] {(byte) times.incrementAndGet()};
  }

  @Test
  void theSameIsDerivedOnceAndAnythingElseAnew() {
    Secret secret = Lanternfish.secret("grün");
    byte[] first = secret.derived("f", SALT, 2_000, 1, this::derive);
    Arrays.fill(first, (byte) 0); // as a caller does
    assertArrayEquals(new byte[] {1}, secret.derived("f", SALT, 2_000, 1, this::derive));
    assertArrayEquals(new byte[] {2}, secret.derived("g", SALT, 2_000, 1, this::derive));
    assertArrayEquals(new byte[] {3}, secret.derived("f", new byte[] {1}, 2_000, 1, this::derive));
    assertArrayEquals(new byte[] {4}, secret.derived("f", SALT, 2_001, 1, this::derive));
    assertArrayEquals(new byte[] {5}, secret.derived("f", SALT, 2_000, 2, this::derive));
    Secret other = secret.spellings().get(1);
    assertArrayEquals(new byte[] {6}, other.derived("f", SALT, 2_000, 1, this::derive));
  }

  @Test
  void whatIsCheapOrLongAgoIsNotKept() {
    Secret secret = Lanternfish.secret("nautilus-ballast-17");
    for (int i = 0; i < 100; i++) {
      byte[] unused = secret.derived("f", new byte[] {(byte) i}, 2_000, 1, this::derive);
    }
    assertEquals(100, times.get());
    assertArrayEquals(new byte[] {101}, secret.derived("f", new byte[1], 2_000, 1, this::derive));
    assertArrayEquals(
        new byte[] {100}, secret.derived("f", new byte[] {99}, 2_000, 1, this::derive));
    assertArrayEquals(new byte[] {102}, secret.derived("f", SALT, 10, 1, this::derive));
    assertArrayEquals(new byte[] {103}, secret.derived("f", SALT, 10, 1, this::derive));
  }

  @Test
  void aWipedSecretDerivesNothingMore() {
    Secret secret = Lanternfish.secret("grün");
    Secret other = secret.spellings().get(1);
    Pbkdf2Parameters parameters =
        new Pbkdf2Parameters(SALT, 2_000, 0, io.symbolon.der.Oids.HMAC_SHA256);
    for (Secret one : new Secret[] {secret, other}) {
      byte[] unused = parameters.derive(one, 32);
    }
    secret.close();
    assertThrows(IllegalStateException.class, () -> parameters.derive(secret, 32));
    assertThrows(IllegalStateException.class, () -> parameters.derive(other, 32));
  }
}
