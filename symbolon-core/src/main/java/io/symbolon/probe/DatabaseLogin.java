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
  private static final int AUTHENTICATION = 'R';
  private static final int ERROR = 'E';
  private static final int NOTICE = 'N';
  private static final int READY = 'Z';
  private static final String NO_SUCH_DATABASE = "3D000";

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
    boolean letIn = false;
    for (int messages = 0; messages < Limits.GREETING_LINES; messages++) {
      int type = answer.read();
      if (type < 0) {
        throw new EOFException("the server closed the connection");
      }
      int length = answer.readInt() - 4;
      if (length < 0 || length > 4 * Limits.GREETING_LINE) {
        return ServiceReply.notUnderstood("a message that is too long");
      }
      byte[] content = answer.readNBytes(length);
      if (type == ERROR) {
        return refusal(content, user);
      }
      if (type == AUTHENTICATION && !isLetIn(content)) {
        bye(out);
        return ServiceReply.served("it asks the user " + VisibleText.of(user) + " for a password");
      }
      if (type == READY) {
        break;
      }
      letIn |= type == AUTHENTICATION;
      // Behind the proof, it still looks whether there is such a user; then it tells its settings.
      if (!letIn && type != NOTICE) {
        return ServiceReply.notUnderstood("a message of type " + type);
      }
    }
    bye(out);
    return ServiceReply.served("it lets in the user " + VisibleText.of(user));
  }

  private static boolean isLetIn(byte[] content) {
    return content.length >= 4 && ByteBuffer.wrap(content).getInt() == 0;
  }

  private static void bye(OutputStream out) throws IOException {
    out.write(new byte[] {TERMINATE, 0, 0, 0, 4});
    out.flush();
  }

  private static ServiceReply refusal(byte[] content, String user) {
    String said = field(content, 'M');
    if (field(content, 'C').equals(NO_SUCH_DATABASE)) {
      return ServiceReply.served("it lets in the user " + VisibleText.of(user));
    }
    return said.toLowerCase(Locale.ROOT).contains("valid client certificate")
        ? ServiceReply.refused(said)
        : ServiceReply.withheld(said);
  }

  /** A field of an error: each has a letter in front and a zero behind. */
  private static String field(byte[] content, char letter) {
    for (String field : new String(content, StandardCharsets.UTF_8).split("\0", -1)) {
      if (!field.isEmpty() && field.charAt(0) == letter) {
        return VisibleText.of(field.substring(1));
      }
    }
    return "an error without a message";
  }
}
