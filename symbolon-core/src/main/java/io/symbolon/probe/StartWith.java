// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.der.Ber;
import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Tags;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The services that begin in clear text and switch to TLS when they are asked to. */
public enum StartWith {
  /** PostgreSQL, by its request for encryption. */
  POSTGRESQL(5432) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      out.write(new byte[] {0, 0, 0, 8, 0x04, (byte) 0xD2, 0x16, 0x2F}); // its length, and 80877103
      out.flush();
      int answer = in.read();
      if (answer == 'S') {
        return;
      }
      throw new SwitchRefusedException(
          answer == 'N'
              ? "The server says that it does no TLS"
              : "What answers is no PostgreSQL server",
          answer == 'N'
              ? "Set ssl = on in postgresql.conf, with the files of its key and certificate, and let"
                  + " it read its settings again."
              : "Check the port, and which service it is.");
    }
  },
  /** Mail between servers and from clients (RFC 3207). */
  SMTP(25, 587) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      replies(in, "220", "What answers is no mail server");
      say(out, "EHLO [127.0.0.1]");
      List<String> can = replies(in, "250", "The server does not like the greeting");
      if (can.stream().noneMatch(line -> line.toUpperCase(Locale.ROOT).endsWith("STARTTLS"))) {
        throw new SwitchRefusedException("The mail server does not offer STARTTLS", SWITCH_ON);
      }
      say(out, "STARTTLS");
      replies(in, "220", "The mail server offers STARTTLS and then refuses it");
    }
  },
  /** Mailboxes (RFC 9051, 6.2.1). */
  IMAP(143) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      String greeting = line(in);
      if (!greeting.startsWith("* ")) {
        throw new SwitchRefusedException(
            "What answers is no IMAP server: " + VisibleText.of(greeting), CHECK_PORT);
      }
      say(out, "s17 STARTTLS");
      for (int i = 0; i < Limits.GREETING_LINES; i++) {
        String line = line(in);
        if (line.startsWith("s17 ")) {
          if (line.toUpperCase(Locale.ROOT).startsWith("S17 OK")) {
            return;
          }
          throw new SwitchRefusedException(
              "The IMAP server refuses STARTTLS: " + VisibleText.of(line.substring(4)), SWITCH_ON);
        }
      }
      throw new SwitchRefusedException("The IMAP server does not come to an answer", CHECK_PORT);
    }
  },
  /** Directories (RFC 4511, 4.14). */
  LDAP(389) {
    private static final int REQUEST = 0x77; // [APPLICATION 23], constructed
    private static final int RESPONSE = 0x78; // [APPLICATION 24], constructed

    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      byte[] name = "1.3.6.1.4.1.1466.20037".getBytes(StandardCharsets.US_ASCII);
      out.write(Der.sequence(Der.integer(17), Der.tagged(REQUEST, Der.contextPrimitive(0, name))));
      out.flush();
      try {
        Cursor message = Element.read(Ber.toDefinite(message(in))).cursor(Tags.SEQUENCE);
        message.next().integer();
        Cursor response = message.next().cursor(RESPONSE);
        int code = response.next(Tags.ENUMERATED).as(Tags.INTEGER).smallInteger();
        if (code != 0) {
          throw new SwitchRefusedException(
              "The directory refuses to switch, with code " + code, SWITCH_ON);
        }
      } catch (io.symbolon.failure.SymbolonException e) {
        throw new SwitchRefusedException("What answers is no directory", CHECK_PORT);
      }
    }
  };

  private static final String SWITCH_ON =
      "Configure the server's key and certificate, and switch STARTTLS on.";
  private static final String CHECK_PORT = "Check the port, and which service it is.";

  @SuppressWarnings("ImmutableEnumChecker") // List.of
  private final List<Integer> ports;

  StartWith(Integer... ports) {
    this.ports = List.of(ports);
  }

  /** {@return the word for it on the command line} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /**
   * {@return the one of this word}
   *
   * @param word the word
   */
  public static Optional<StartWith> ofWord(String word) {
    return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
  }

  /** The one that usually listens on a port. */
  static Optional<StartWith> ofPort(int port) {
    return Arrays.stream(values()).filter(one -> one.ports.contains(port)).findFirst();
  }

  /** The whole part in clear text, up to where TLS begins. */
  void begin(Socket socket) throws IOException {
    try {
      begin(socket.getInputStream(), socket.getOutputStream());
    } catch (EOFException e) {
      throw new SwitchRefusedException(
          "The server closed the connection before TLS could begin", CHECK_PORT);
    }
  }

  abstract void begin(InputStream in, OutputStream out) throws IOException;

  private static void say(OutputStream out, String line) throws IOException {
    out.write((line + "\r\n").getBytes(StandardCharsets.US_ASCII));
    out.flush();
  }

  /** One line; what follows it stays unread, because it may be TLS already. */
  private static String line(InputStream in) throws IOException {
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

  /** All lines of a reply (RFC 5321, 4.2.1). */
  private static List<String> replies(InputStream in, String code, String otherwise)
      throws IOException {
    List<String> lines = new java.util.ArrayList<>();
    for (int i = 0; i < Limits.GREETING_LINES; i++) {
      String line = line(in);
      if (!line.startsWith(code)) {
        throw new SwitchRefusedException(otherwise + ": " + VisibleText.of(line), CHECK_PORT);
      }
      lines.add(line);
      if (line.length() <= code.length() || line.charAt(code.length()) != '-') {
        return lines;
      }
    }
    throw new SwitchRefusedException("The server does not come to an answer", CHECK_PORT);
  }

  /** One message in BER with a definite length, without what follows it. */
  private static byte[] message(InputStream in) throws IOException {
    ByteArrayOutputStream message = new ByteArrayOutputStream();
    int tag = next(in, message);
    int length = next(in, message);
    if (tag != Tags.SEQUENCE || length == 0x80) {
      throw new SwitchRefusedException("What answers is no directory", CHECK_PORT);
    }
    if (length > 0x80) {
      int octets = length & 0x7F;
      length = 0;
      for (int i = 0; i < octets; i++) {
        length = length > Limits.GREETING_LINE ? length : length << 8 | next(in, message);
      }
    }
    if (length > Limits.GREETING_LINE) {
      throw new SwitchRefusedException("What answers is no directory", CHECK_PORT);
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
