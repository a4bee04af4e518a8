// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Locale;

/**
 * The first message of a PostgreSQL client inside TLS: a user and a database. The server answers by
 * asking for the proof that it wants, such as a password, or refuses before that: then it says
 * whether the certificate is why.
 */
final class DatabaseLogin {
  private static final int VERSION_3 = 3 << 16;
  private static final int TERMINATE = 'X';

  private DatabaseLogin() {}

  static ServiceReply ask(InputStream in, OutputStream out, String user) throws IOException {
    ByteArrayOutputStream parameters = new ByteArrayOutputStream();
    for (String part : new String[] {"user", user.replace("\0", ""), "database", "postgres", ""}) {
      parameters.writeBytes(part.getBytes(StandardCharsets.UTF_8));
      parameters.write(0);
    }
    out.write(
        ByteBuffer.allocate(8 + parameters.size())
            .putInt(8 + parameters.size())
            .putInt(VERSION_3)
            .put(parameters.toByteArray())
            .array());
    out.flush();
    DataInputStream answer = new DataInputStream(in);
    int type = answer.read();
    if (type < 0) {
      throw new EOFException("the server closed the connection");
    }
    int length = answer.readInt() - 4;
    if (length < 0 || length > 4 * Limits.GREETING_LINE) {
      return ServiceReply.notUnderstood("a message that is too long");
    }
    byte[] content = answer.readNBytes(length);
    if (type == 'R') {
      out.write(new byte[] {TERMINATE, 0, 0, 0, 4});
      out.flush();
      return ServiceReply.served(
          content.length >= 4 && ByteBuffer.wrap(content).getInt() == 0
              ? "it lets in the user " + VisibleText.of(user)
              : "it asks the user " + VisibleText.of(user) + " for a password");
    }
    if (type != 'E') {
      return ServiceReply.notUnderstood("a message of type " + type);
    }
    String said = message(content);
    String lower = said.toLowerCase(Locale.ROOT);
    if (lower.contains("valid client certificate")) {
      return ServiceReply.refused(said);
    }
    return ServiceReply.withheld(said);
  }

  /** The message for people in an error: fields with a letter in front, each with a zero behind. */
  private static String message(byte[] content) {
    for (String field : new String(content, StandardCharsets.UTF_8).split("\0", -1)) {
      if (field.startsWith("M")) {
        return VisibleText.of(field.substring(1));
      }
    }
    return "an error without a message";
  }
}
