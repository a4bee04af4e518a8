// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.beside;

import com.fasterxml.jackson.databind.ObjectMapper;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority.Revocation;
import io.symbolon.issue.record.RecordsState;
import io.symbolon.remedy.Naming;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** What is said over the socket: JSON, each message behind its length. */
final class Message {
  private static final int LONGEST = 64 << 20; // octets
  private static final ObjectMapper MAPPER = new ObjectMapper();
  private static final String CHANGE = "symbolon change of records 1\n";

  private Message() {}

  /** What can be wished for. */
  enum Kind {
    STATE,
    ADD,
    REVOKE,
    KEEP,
    LIST,
    ISSUED,
    PAGE,
    FIND,
    ENDING,
    REVOCATION,
    REVOKED;

    /**
     * Whether it makes the authority sign something: then whoever wishes for it shows that they
     * have the key. A list to keep is signed itself.
     */
    boolean isChange() {
      return this == ADD || this == REVOKE;
    }
  }

  /** A wish. */
  record Asked(
      Kind kind,
      @Nullable String text,
      long from,
      long until,
      int most,
      @Nullable List<String> certificates,
      @Nullable List<Revoked> revoked) {
    static Asked of(Kind kind) {
      return new Asked(kind, null, 0, 0, 0, null, null);
    }

    static Asked of(Kind kind, String text) {
      return new Asked(kind, text, 0, 0, 0, null, null);
    }
  }

  /** What comes of it. */
  record Outcome(
      @Nullable Refusal refusal,
      @Nullable RecordsState state,
      @Nullable String list,
      @Nullable List<String> certificates,
      @Nullable List<Revoked> revoked) {
    static Outcome nothing() {
      return new Outcome(null, null, null, null, null);
    }

    static Outcome certificates(Collection<Certificate> all) {
      return new Outcome(null, null, null, encoded(all), null);
    }

    static Outcome revoked(Collection<Revocation> all) {
      return new Outcome(null, null, null, null, all.stream().map(Revoked::of).toList());
    }
  }

  /** Why nothing comes of it. */
  record Refusal(String reason, String statement, String seen, String advice) {
    static Refusal of(SymbolonException e) {
      return new Refusal(
          e.reason().name(),
          e.statement(Naming.MARKS),
          e.seen(Naming.MARKS),
          e.remedy().advice(Naming.MARKS));
    }

    SymbolonException exception() {
      Reason why;
      try {
        why = Reason.valueOf(reason.toUpperCase(Locale.ROOT));
      } catch (IllegalArgumentException e) {
        why = Reason.NOT_WRITABLE;
      }
      return new SymbolonException(why, statement, seen, advice);
    }
  }

  /** A revocation. */
  record Revoked(String serial, long when, String reason) {
    static Revoked of(Revocation one) {
      return new Revoked(
          one.serial().toString(16), one.when().getEpochSecond(), one.reason().word());
    }

    Revocation revocation() {
      return new Revocation(
          new BigInteger(serial, 16),
          Instant.ofEpochSecond(when),
          RevocationReason.ofWord(reason).orElse(RevocationReason.UNSPECIFIED));
    }
  }

  static List<String> encoded(Collection<Certificate> all) {
    return all.stream().map(one -> Base64.getEncoder().encodeToString(one.encoding())).toList();
  }

  static List<Certificate> certificates(@Nullable List<String> all) {
    return all == null
        ? List.of()
        : all.stream().map(one -> Certificate.read(Base64.getDecoder().decode(one))).toList();
  }

  static String encoded(RevocationList list) {
    return Base64.getEncoder().encodeToString(list.encoding());
  }

  static RevocationList list(String text) {
    return RevocationList.read(Base64.getDecoder().decode(text));
  }

  static byte[] octets(Object message) throws IOException {
    return MAPPER.writeValueAsBytes(message);
  }

  static <T> T value(byte[] octets, Class<T> type) throws IOException {
    return MAPPER.readValue(octets, type);
  }

  /** What is signed of a change: for this connection, and once. */
  static byte[] said(byte[] challenge, long number, byte[] wish) {
    byte[] head =
        (CHANGE + Base64.getEncoder().encodeToString(challenge) + "\n" + number + "\n")
            .getBytes(StandardCharsets.US_ASCII);
    byte[] all = new byte[head.length + wish.length];
    System.arraycopy(head, 0, all, 0, head.length);
    System.arraycopy(wish, 0, all, head.length, wish.length);
    return all;
  }

  static void send(DataOutputStream to, byte[] octets) throws IOException {
    to.writeInt(octets.length);
    to.write(octets);
    to.flush();
  }

  static byte[] receive(DataInputStream from) throws IOException {
    int length = from.readInt();
    if (length < 0 || length > LONGEST) {
      throw new IOException("a message of " + length + " octets");
    }
    byte[] octets = from.readNBytes(length);
    if (octets.length < length) {
      throw new java.io.EOFException("the other side has ended");
    }
    return octets;
  }
}
