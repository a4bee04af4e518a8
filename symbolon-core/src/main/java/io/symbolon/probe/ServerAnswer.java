// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.limit.Limits;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;

/**
 * What a server says to an {@link Offer}: the suite of its choice, or that it does not want to.
 *
 * @param version the number of the version it chose; 0 where it chose none
 * @param suite the number of the suite it chose; 0 where it chose none
 * @param alert the number of the alert it refused with
 * @param seen in words, where it is neither
 */
record ServerAnswer(int version, int suite, Optional<Integer> alert, String seen) {
  private static final int ALERT = 21;
  private static final int HANDSHAKE = 22;
  private static final int SERVER_HELLO = 2;
  private static final int SUPPORTED_VERSIONS = 43;

  static ServerAnswer refused(String seen) {
    return new ServerAnswer(0, 0, Optional.empty(), seen);
  }

  boolean isChoice() {
    return suite != 0;
  }

  /**
   * Reads the first message of a server (RFC 8446, 4.1.3 and 5.1). No more is read than its hello
   * needs.
   *
   * @throws IOException if the connection breaks, or what comes is no TLS
   */
  static ServerAnswer read(InputStream in) throws IOException {
    byte[] message = new byte[0];
    while (true) {
      int type = in.read();
      if (type < 0) {
        throw new EOFException("the server closed the connection");
      }
      int major = octet(in);
      int minor = octet(in);
      int length = octet(in) << 8 | octet(in);
      if (major != 3 || minor > 4 || length == 0 || length > Limits.TLS_RECORD) {
        throw new IOException("what comes back is not TLS");
      }
      byte[] content = in.readNBytes(Math.min(length, Limits.SERVER_HELLO));
      if (content.length < Math.min(length, Limits.SERVER_HELLO)) {
        throw new EOFException("the server closed the connection in the middle of a message");
      }
      if (type == ALERT) {
        int code = content.length < 2 ? 0 : content[1] & 0xFF;
        if (content.length >= 2 && content[0] == 1 && code != 0 && length < Limits.SERVER_HELLO) {
          continue; // a warning, such as that the name is not known; the hello follows
        }
        return new ServerAnswer(0, 0, Optional.of(code), "");
      }
      if (type != HANDSHAKE) {
        throw new IOException("what comes back is not TLS");
      }
      byte[] joined = new byte[message.length + content.length];
      System.arraycopy(message, 0, joined, 0, message.length);
      System.arraycopy(content, 0, joined, message.length, content.length);
      message = joined;
      if (message.length >= 4) {
        int wanted = (message[1] & 0xFF) << 16 | (message[2] & 0xFF) << 8 | (message[3] & 0xFF);
        if (message[0] != SERVER_HELLO || wanted > Limits.SERVER_HELLO) {
          throw new IOException("the server begins with another message than its hello");
        }
        if (message.length >= 4 + wanted) {
          return hello(message, 4 + wanted);
        }
      }
      if (length > Limits.SERVER_HELLO) {
        throw new IOException("the server's hello is too long");
      }
    }
  }

  private static int octet(InputStream in) throws IOException {
    int octet = in.read();
    if (octet < 0) {
      throw new EOFException("the server closed the connection in the middle of a message");
    }
    return octet;
  }

  private static ServerAnswer hello(byte[] message, int end) throws IOException {
    int at = 4 + 2 + 32;
    if (end <= at) {
      throw new IOException("the server's hello is cut off");
    }
    int version = two(message, 4, end);
    at += 1 + (message[at] & 0xFF);
    int suite = two(message, at, end);
    at += 3; // and the compression
    if (at + 2 <= end) {
      int limit = Math.min(end, at + 2 + two(message, at, end));
      at += 2;
      while (at + 4 <= limit) {
        int length = two(message, at + 2, limit);
        if (two(message, at, limit) == SUPPORTED_VERSIONS && length == 2) {
          version = two(message, at + 4, limit);
        }
        at += 4 + length;
      }
    }
    return new ServerAnswer(version, suite, Optional.empty(), "");
  }

  private static int two(byte[] octets, int at, int end) throws IOException {
    if (at + 2 > end) {
      throw new IOException("the server's hello is cut off");
    }
    return (octets[at] & 0xFF) << 8 | (octets[at + 1] & 0xFF);
  }
}
