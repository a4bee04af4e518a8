// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.records.Records;
import java.nio.ByteBuffer;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.concurrent.atomic.AtomicLong;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Nonces (RFC 8555, 6.5) that need no memory until they are used: each is a moment and random bits
 * under a key of the authority's, so that every process that answers for it takes them. What is
 * used is on record, so that none is taken twice.
 */
final class Nonces {
  private static final long LASTS = 3600; // seconds
  private static final int RANDOM = 12;
  private static final int MAC = 16;

  private final Records records;
  private final SecretKeySpec key;
  private final SecureRandom random;
  private final Clock clock;
  private final AtomicLong cleaned = new AtomicLong();

  Nonces(Records records, byte[] secret, SecureRandom random, Clock clock) {
    this.records = records;
    this.key = new SecretKeySpec(secret, "HmacSHA256");
    this.random = random;
    this.clock = clock;
  }

  String fresh() {
    ByteBuffer body = ByteBuffer.allocate(Long.BYTES + RANDOM);
    byte[] bits = new byte[RANDOM];
    random.nextBytes(bits);
    body.putLong(clock.instant().getEpochSecond()).put(bits);
    byte[] whole = Arrays.copyOf(body.array(), body.capacity() + MAC);
    System.arraycopy(mac(body.array()), 0, whole, body.capacity(), MAC);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(whole);
  }

  /** Uses a nonce; whether it was one of ours, in time, and never used. */
  boolean use(String nonce) {
    byte[] whole;
    try {
      whole = Base64.getUrlDecoder().decode(nonce);
    } catch (IllegalArgumentException e) {
      return false;
    }
    int length = Long.BYTES + RANDOM;
    if (whole.length != length + MAC) {
      return false;
    }
    byte[] body = Arrays.copyOf(whole, length);
    boolean ours =
        MessageDigest.isEqual(
            Arrays.copyOfRange(whole, length, whole.length), Arrays.copyOf(mac(body), MAC));
    long now = clock.instant().getEpochSecond();
    long made = ByteBuffer.wrap(body).getLong();
    if (!ours || now - made > LASTS || made - now > LASTS) {
      return false;
    }
    clean(now);
    // The one text of these octets: the decoder takes others whose last bits are different.
    String text = Base64.getUrlEncoder().withoutPadding().encodeToString(whole);
    return records.spend(text, Instant.ofEpochSecond(made + 2 * LASTS));
  }

  private void clean(long now) {
    long last = cleaned.get();
    if (now - last > LASTS / 4 && cleaned.compareAndSet(last, now)) {
      int unused = records.forgetNonces(Instant.ofEpochSecond(now));
    }
  }

  private byte[] mac(byte[] body) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(key);
      return mac.doFinal(body);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e); // every Java has it
    }
  }
}
