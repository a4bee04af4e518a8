// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.util.Arrays;
import java.util.Locale;

/**
 * How control of a host is proven at each renewal.
 *
 * @param kind the way
 * @param value what it needs: an address and port, a folder, a name server or a program; empty
 *     where the usual one is meant
 */
public record ProofWay(Kind kind, String value) {
  /** The ways. */
  public enum Kind {
    /** A file over HTTP, served by this program itself (RFC 8555, 8.3). */
    LISTEN(false),
    /** A file over HTTP, put into a web server's folder. */
    FOLDER(true),
    /** A certificate shown over TLS by this program itself (RFC 8737). */
    TLS(false),
    /** A record in the DNS, put there by a signed update (RFC 8555, 8.4; RFC 2136). */
    DNS(true),
    /** A program of the operator's that serves the file. */
    PROGRAM(true),
    /** A program of the operator's that puts the record into the DNS. */
    DNS_PROGRAM(true);

    private final boolean needs;

    Kind(boolean needs) {
      this.needs = needs;
    }

    /** {@return how it is written} */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** {@return whether it is nothing without a value} */
    public boolean needsValue() {
      return needs;
    }

    /** {@return whether its value is a path} */
    public boolean takesPath() {
      return this == FOLDER || this == PROGRAM || this == DNS_PROGRAM;
    }
  }

  /**
   * Checks that nothing is missing.
   *
   * @throws SymbolonException if it needs a value and has none
   */
  public ProofWay {
    if (kind.needsValue() && value.isEmpty()) {
      throw none();
    }
  }

  /**
   * {@return a way as text: {@code KIND} or {@code KIND=VALUE}}
   *
   * @throws SymbolonException if there is no such way
   */
  public static ProofWay parse(String text) {
    int equals = text.indexOf('=');
    String word = equals < 0 ? text : text.substring(0, equals);
    Kind kind =
        Arrays.stream(Kind.values())
            .filter(one -> one.word().equals(word))
            .findFirst()
            .orElseThrow(ProofWay::none);
    return new ProofWay(kind, equals < 0 ? "" : text.substring(equals + 1));
  }

  @Override
  public String toString() {
    return value.isEmpty() ? kind.word() : kind.word() + "=" + value;
  }

  private static SymbolonException none() {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "This is no way to prove control of a host.",
        "It is none of listen, folder=PATH, tls, dns=SERVER, program=PATH and dns-program=PATH.",
        "Use one of them.");
  }
}
