// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;

/**
 * The first packet of a MariaDB server: it speaks first, and says what it can. Numbers are written
 * with the low octet first; a packet begins with three octets of length and its number.
 *
 * @param version the server's words for its version
 * @param doesTls whether it takes TLS
 */
record DatabaseGreeting(String version, boolean doesTls) {
  private static final int PROTOCOL = 10;
  private static final int ERROR = 0xFF;
  private static final int TLS = 0x0800;

  /** Version 4.1 of the protocol, TLS, long passwords' answers, named ways to log in. */
  private static final int CAN = 0x0200 | TLS | 0x8000 | 0x0008_0000;

  private static final int LARGEST_PACKET = 1 << 24;
  private static final byte UTF_8 = 45;

  static DatabaseGreeting read(InputStream in) throws IOException {
    byte[] head = in.readNBytes(4);
    if (head.length < 4) {
      throw new EOFException("the server closed the connection");
    }
    int length = (head[0] & 0xFF) | ((head[1] & 0xFF) << 8) | ((head[2] & 0xFF) << 16);
    if (length < 3 || length > Limits.GREETING_LINE || head[3] > 1) {
      throw other();
    }
    byte[] content = in.readNBytes(length);
    if (content.length < length) {
      throw new EOFException("the server closed the connection");
    }
    if ((content[0] & 0xFF) == ERROR) {
      String said =
          VisibleText.of(new String(content, 3, length - 3, StandardCharsets.UTF_8).strip());
      throw new SwitchRefusedException(
          "The database refuses the connection: " + said,
          said.contains("blocked")
              ? "Let somebody log in to the database who may, and say FLUSH HOSTS there."
              : said.contains("not allowed")
                  ? "Probe from a host that an account of the database may log in from, or give this"
                      + " host an account."
                  : "Look into the server's log.");
    }
    int end = 1;
    while (end < length && content[end] != 0) {
      end++;
    }
    int abilities = end + 1 + 4 + 8 + 1; // behind the connection's number and the salt
    if (content[0] != PROTOCOL || abilities + 2 > length) {
      throw other();
    }
    int can = (content[abilities] & 0xFF) | ((content[abilities + 1] & 0xFF) << 8);
    return new DatabaseGreeting(
        VisibleText.of(new String(content, 1, end - 1, StandardCharsets.ISO_8859_1)),
        (can & TLS) != 0);
  }

  /** Whether these octets are the beginning of such a greeting. */
  static boolean isBegun(byte[] first) {
    return first.length > 5 && first[2] == 0 && first[3] == 0 && first[4] == PROTOCOL;
  }

  void askForTls(OutputStream out) throws IOException {
    if (!doesTls) {
      throw new SwitchRefusedException(
          "The database (" + version + ") says that it does no TLS",
          "Give it ssl_cert and ssl_key with files that its account may read, and restart it. Its log"
              + " says what it does not like.");
    }
    ByteBuffer packet = ByteBuffer.allocate(36).order(ByteOrder.LITTLE_ENDIAN);
    packet.put(new byte[] {32, 0, 0, 1}).putInt(CAN).putInt(LARGEST_PACKET).put(UTF_8);
    out.write(packet.array());
    out.flush();
  }

  private static SwitchRefusedException other() {
    return new SwitchRefusedException(
        "What answers is not a MariaDB server, nor one that speaks as it does",
        TextLines.CHECK_PORT);
  }
}
