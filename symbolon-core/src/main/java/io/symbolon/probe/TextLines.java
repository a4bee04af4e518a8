// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** The lines of the services that speak in text. */
final class TextLines {
  static final String CHECK_PORT = "Check the port, and which service it is.";

  private TextLines() {}

  static void say(OutputStream out, String line) throws IOException {
    out.write((line + "\r\n").getBytes(StandardCharsets.US_ASCII));
    out.flush();
  }

  /** One line; what follows it stays unread, because it may be TLS already. */
  static String line(InputStream in) throws IOException {
    ByteArrayOutputStream line = new ByteArrayOutputStream();
    for (int octet = in.read(); octet != '\n'; octet = in.read()) {
      if (octet < 0) {
        throw new EOFException("the server closed the connection");
      }
      if (line.size() >= Limits.GREETING_LINE) {
        throw new SwitchRefusedException("The server sends a line without end", CHECK_PORT);
      }
      line.write(octet);
    }
    return line.toString(StandardCharsets.ISO_8859_1).strip();
  }

  /** All lines of one reply in mail's way, whatever its code (RFC 5321, 4.2.1). */
  static List<String> reply(InputStream in) throws IOException {
    List<String> lines = new ArrayList<>();
    while (lines.size() < Limits.GREETING_LINES) {
      String line = line(in);
      lines.add(line);
      if (line.length() <= 3 || line.charAt(3) != '-') {
        return lines;
      }
    }
    throw new SwitchRefusedException("The server does not come to an answer", CHECK_PORT);
  }

  /** The same, where only one code is good. */
  static List<String> replies(InputStream in, String code, String otherwise) throws IOException {
    List<String> lines = reply(in);
    for (String line : lines) {
      if (!line.startsWith(code)) {
        throw new SwitchRefusedException(otherwise + ": " + VisibleText.of(line), CHECK_PORT);
      }
    }
    return lines;
  }

  /** The line that begins with a tag, such as the answer to a command of a mailbox. */
  static String tagged(InputStream in, String tag, String otherwise) throws IOException {
    for (int i = 0; i < Limits.GREETING_LINES; i++) {
      String line = line(in);
      if (line.startsWith(tag)) {
        return line;
      }
    }
    throw new SwitchRefusedException(otherwise, CHECK_PORT);
  }
}
