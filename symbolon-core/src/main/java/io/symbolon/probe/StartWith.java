// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import static io.symbolon.probe.TextLines.CHECK_PORT;
import static io.symbolon.probe.TextLines.line;
import static io.symbolon.probe.TextLines.replies;
import static io.symbolon.probe.TextLines.reply;
import static io.symbolon.probe.TextLines.say;
import static io.symbolon.probe.TextLines.tagged;

import io.symbolon.text.VisibleText;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Socket;
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
      if (answer < 0) {
        throw new EOFException("the server closed the connection");
      }
      throw new SwitchRefusedException(
          answer == 'N'
              ? "The server says that it does no TLS"
              : "What answers is not a PostgreSQL server",
          answer == 'N'
              ? "Set ssl = on in postgresql.conf, with the files of its key and certificate, and let"
                  + " it read its settings again."
              : CHECK_PORT);
    }
  },
  /** MariaDB and what speaks as it does, by its own request for encryption. */
  MYSQL(3306) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      DatabaseGreeting.read(in).askForTls(out);
    }
  },
  /** Mail between servers and from clients (RFC 3207). */
  SMTP(25, 587) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      replies(in, "220", "What answers is not a mail server");
      say(out, "EHLO [127.0.0.1]");
      List<String> can = replies(in, "250", "The server does not like the greeting");
      if (can.stream().noneMatch(line -> line.toUpperCase(Locale.ROOT).endsWith("STARTTLS"))) {
        throw new SwitchRefusedException("The mail server does not offer STARTTLS", SWITCH_ON);
      }
      say(out, "STARTTLS");
      String answer = reply(in).get(0);
      if (answer.startsWith("454")) {
        throw new SwitchRefusedException(
            "The mail server offers STARTTLS, and has itself no key or certificate that it can use: "
                + VisibleText.of(answer),
            OWN_KEY);
      }
      if (!answer.startsWith("220")) {
        throw new SwitchRefusedException(
            "The mail server offers STARTTLS and then refuses it: " + VisibleText.of(answer),
            SWITCH_ON);
      }
    }
  },
  /** Mailboxes (RFC 9051, 6.2.1). */
  IMAP(143) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      String greeting = line(in);
      if (!greeting.startsWith("* ")) {
        throw new SwitchRefusedException(
            "What answers is not an IMAP server: " + VisibleText.of(greeting), CHECK_PORT);
      }
      say(out, "s17 STARTTLS");
      String answer = tagged(in, "s17 ", "The IMAP server does not come to an answer");
      if (!answer.toUpperCase(Locale.ROOT).startsWith("S17 OK")) {
        throw new SwitchRefusedException(
            "The IMAP server refuses STARTTLS: " + VisibleText.of(answer.substring(4)), SWITCH_ON);
      }
    }
  },
  /** Mailboxes that are fetched (RFC 2595, 4). */
  POP3(110) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      String greeting = line(in);
      if (!greeting.startsWith("+OK")) {
        throw new SwitchRefusedException(
            "What answers is not a POP3 server: " + VisibleText.of(greeting), CHECK_PORT);
      }
      say(out, "STLS");
      String answer = line(in);
      if (!answer.startsWith("+OK")) {
        throw new SwitchRefusedException(
            "The POP3 server refuses to switch: " + VisibleText.of(answer), SWITCH_ON);
      }
    }
  },
  /** Files that are transferred (RFC 4217, 4). */
  FTP(21) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      replies(in, "220", "What answers is not a file server (FTP)");
      say(out, "AUTH TLS");
      String answer = reply(in).get(0);
      if (!answer.startsWith("234")) {
        throw new SwitchRefusedException(
            "The file server (FTP) refuses AUTH TLS: " + VisibleText.of(answer),
            "Configure the server's key and certificate, and switch TLS on. What it says to its own"
                + " clients is in its log.");
      }
    }
  },
  /** Directories (RFC 4511, 4.14). */
  LDAP(389) {
    @Override
    void begin(InputStream in, OutputStream out) throws IOException {
      int code = DirectoryMessage.startTls(in, out);
      if (code != 0) {
        // 52 is "unavailable" (4.14.2): it can't, because it has no key that works
        throw new SwitchRefusedException(
            "The directory refuses to switch, with code " + code, code == 52 ? OWN_KEY : SWITCH_ON);
      }
    }
  };

  private static final String SWITCH_ON =
      "Configure the server's key and certificate, and switch STARTTLS on.";
  private static final String OWN_KEY =
      "Look into the server's log: it can't read its key or its certificate, or they do not fit. Then"
          + " let it read its settings again.";

  @SuppressWarnings("ImmutableEnumChecker") // List.of
  private final List<Integer> ports;

  StartWith(Integer... ports) {
    this.ports = List.of(ports);
  }

  /** {@return the word for it on the command line} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return the one of this word} */
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
}
