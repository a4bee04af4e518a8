// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.der.Ber;
import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;

/** The few messages of a directory (RFC 4511) that a probe needs. */
final class DirectoryMessage {
  private static final int BIND = 0x60; // [APPLICATION 0], constructed
  private static final int BOUND = 0x61; // [APPLICATION 1], constructed
  private static final int UNBIND = 0x42; // [APPLICATION 2]
  private static final int EXTENDED = 0x77; // [APPLICATION 23], constructed
  private static final int EXTENDED_ANSWER = 0x78; // [APPLICATION 24], constructed

  private DirectoryMessage() {}

  /** Asks for TLS (4.14), and gives the code of the answer: 0 if it comes. */
  static int startTls(InputStream in, OutputStream out) throws IOException {
    byte[] name = "1.3.6.1.4.1.1466.20037".getBytes(StandardCharsets.US_ASCII);
    out.write(Der.sequence(Der.integer(17), Der.tagged(EXTENDED, Der.contextPrimitive(0, name))));
    out.flush();
    return code(in, EXTENDED_ANSWER);
  }

  /** Logs in as nobody (4.2 and RFC 4513, 5.1.1) and out again; gives the code of the answer. */
  static int anonymousBind(InputStream in, OutputStream out) throws IOException {
    out.write(
        Der.sequence(
            Der.integer(18),
            Der.tagged(
                BIND,
                Der.integer(3),
                Der.octets(new byte[0]),
                Der.contextPrimitive(0, new byte[0]))));
    out.flush();
    int code = code(in, BOUND);
    out.write(Der.sequence(Der.integer(19), Der.tagged(UNBIND)));
    out.flush();
    return code;
  }

  private static int code(InputStream in, int answer) throws IOException {
    try {
      Cursor message = Element.read(Ber.toDefinite(message(in))).cursor(Tags.SEQUENCE);
      message.next().integer();
      Cursor response = message.next().cursor(answer);
      return response.next(Tags.ENUMERATED).as(Tags.INTEGER).smallInteger();
    } catch (SymbolonException e) {
      throw noDirectory();
    }
  }

  private static SwitchRefusedException noDirectory() {
    return new SwitchRefusedException("What answers is not a directory", TextLines.CHECK_PORT);
  }

  /** One message in BER with a definite length, without what follows it. */
  private static byte[] message(InputStream in) throws IOException {
    ByteArrayOutputStream message = new ByteArrayOutputStream();
    int tag = next(in, message);
    int length = next(in, message);
    if (tag != Tags.SEQUENCE || length == 0x80) {
      throw noDirectory();
    }
    if (length > 0x80) {
      int octets = length & 0x7F;
      length = 0;
      for (int i = 0; i < octets; i++) {
        length = length > Limits.GREETING_LINE ? length : length << 8 | next(in, message);
      }
    }
    if (length > Limits.GREETING_LINE) {
      throw noDirectory();
    }
    byte[] content = in.readNBytes(length);
    if (content.length < length) {
      throw new EOFException("the server closed the connection");
    }
    message.writeBytes(content);
    return message.toByteArray();
  }

  private static int next(InputStream in, ByteArrayOutputStream seen) throws IOException {
    int octet = in.read();
    if (octet < 0) {
      throw new EOFException("the server closed the connection");
    }
    seen.write(octet);
    return octet;
  }
}
