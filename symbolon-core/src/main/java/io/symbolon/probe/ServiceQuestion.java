// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import static io.symbolon.probe.TextLines.line;
import static io.symbolon.probe.TextLines.reply;
import static io.symbolon.probe.TextLines.say;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One question in a service's own protocol, once TLS stands. Some services complete the handshake
 * with every client and refuse afterwards the one whose certificate they do not like, or that has
 * none: a web server by an error page, a mail server by its code 421, a mailbox and a database at
 * the login. Each question is one that changes nothing and ends before a password is asked for.
 */
enum ServiceQuestion {
  /** The web server's page (RFC 9110). */
  HTTP("an HTTP request", 443, 8443, 9443) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      String host = asker.host().contains(":") ? "[" + asker.host() + "]" : asker.host();
      say(
          out,
          "GET / HTTP/1.1\r\nHost: "
              + host
              + "\r\nUser-Agent: symbolon\r\nAccept: */*\r\nConnection: close\r\n");
      String status = line(in);
      Matcher code = Pattern.compile("HTTP/[0-9.]+ ([0-9]{3})(?: (.*))?").matcher(status);
      if (!code.matches()) {
        return ServiceReply.notUnderstood(status);
      }
      String said = "HTTP status " + code.group(1);
      if (!code.group(1).equals("400") && !code.group(1).equals("403")) {
        return ServiceReply.served(said);
      }
      Matcher why = CERTIFICATE.matcher(beginning(in));
      if (why.find()) {
        return ServiceReply.refused(said + ", \"" + VisibleText.of(why.group().strip()) + "\"");
      }
      return code.group(1).equals("403")
          ? ServiceReply.withheld(said + ": it may refuse this client, or this page to everybody")
          : ServiceReply.withheld(
              said + ": it may refuse this client, or the name that was asked for");
    }
  },
  /** A mail server's greeting (RFC 5321). */
  SMTP("a mail greeting", 465) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      if (!asker.greeted()) {
        String greeting = reply(in).get(0);
        if (!greeting.startsWith("220")) {
          return ServiceReply.refused(VisibleText.of(greeting));
        }
      }
      say(out, "EHLO [127.0.0.1]");
      String answer = reply(in).get(0);
      // What transfers files greets with the same number (RFC 959), and wants a name first.
      boolean other = answer.matches("(500|502).*|530 (?!5\\.).*");
      if (!other && (answer.startsWith("421") || answer.startsWith("5"))) {
        return ServiceReply.refused(VisibleText.of(answer));
      }
      say(out, "QUIT");
      return ServiceReply.served("code " + VisibleText.of(answer.substring(0, 3)));
    }
  },
  /** The beginning of a login to a mailbox (RFC 9051, 6.2.2), which is then given up. */
  IMAP("the beginning of a login", 993) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      if (!asker.greeted()) {
        String greeting = line(in);
        if (!greeting.startsWith("* OK") && !greeting.startsWith("* PREAUTH")) {
          return ServiceReply.refused(VisibleText.of(greeting));
        }
      }
      say(out, "s18 AUTHENTICATE PLAIN");
      String answer = line(in);
      for (int i = 0; answer.startsWith("* ") && i < Limits.GREETING_LINES; i++) {
        answer = line(in);
      }
      return login(answer, answer.startsWith("+"), "*", "s19 LOGOUT", in, out);
    }
  },
  /** The same for mailboxes that are fetched (RFC 5034). */
  POP3("the beginning of a login", 995) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      if (!asker.greeted()) {
        String greeting = line(in);
        if (!greeting.startsWith("+OK")) {
          return ServiceReply.refused(VisibleText.of(greeting));
        }
      }
      say(out, "AUTH PLAIN");
      String answer = line(in);
      return login(
          answer, answer.startsWith("+") && !answer.startsWith("+OK"), "*", "QUIT", in, out);
    }
  },
  /** Whether a file server (RFC 959) goes on to talk; nobody logs in. */
  FTP("the size of a protected block", 990) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      if (!asker.greeted()) {
        String greeting = reply(in).get(0);
        if (!greeting.startsWith("220")) {
          return ServiceReply.refused(VisibleText.of(greeting));
        }
      }
      say(out, "PBSZ 0"); // RFC 2228, 5: what a client says first behind its handshake
      String answer = reply(in).get(0);
      if (answer.startsWith("421")) {
        return ServiceReply.refused(VisibleText.of(answer));
      }
      say(out, "QUIT");
      return ServiceReply.served("code " + VisibleText.of(answer.substring(0, 3)));
    }
  },
  /** A directory's answer to somebody without a name. */
  LDAP("an anonymous bind", 636, 3269) {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      int code = DirectoryMessage.anonymousBind(in, out);
      return ServiceReply.served("code " + code);
    }
  },
  /** The first message of a PostgreSQL client, and whether the database then asks who it is. */
  POSTGRESQL("the first message of a login") {
    @Override
    ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException {
      return DatabaseLogin.ask(in, out, asker.user());
    }
  };

  /** Words of web servers for a certificate that is missing or refused. */
  private static final Pattern CERTIFICATE =
      Pattern.compile(
          "[^<>\r\n]{0,60}\\b(?:SSL|TLS|client)[ -]certificate\\b[^<>\r\n]{0,60}",
          Pattern.CASE_INSENSITIVE);

  private final String title;

  @SuppressWarnings("ImmutableEnumChecker") // List.of
  private final java.util.List<Integer> ports;

  ServiceQuestion(String title, Integer... ports) {
    this.title = title;
    this.ports = java.util.List.of(ports);
  }

  /**
   * Who asks.
   *
   * @param host the name that was asked for
   * @param user the common name of the certificate that is shown, or a name of our own
   * @param greeted whether the service's greeting was read before TLS
   */
  record Asker(String host, String user, boolean greeted) {}

  /** In words, with its article. */
  String title() {
    return title;
  }

  /**
   * Asks, and understands the answer.
   *
   * @throws IOException if the server hangs up or sends an alert, or what it says is no answer
   */
  abstract ServiceReply ask(InputStream in, OutputStream out, Asker asker) throws IOException;

  /** The one for a service that began in clear text. */
  static Optional<ServiceQuestion> of(StartWith service) {
    return switch (service) {
      case POSTGRESQL -> Optional.of(POSTGRESQL);
      case SMTP -> Optional.of(SMTP);
      case IMAP -> Optional.of(IMAP);
      case POP3 -> Optional.of(POP3);
      case LDAP -> Optional.of(LDAP);
      case FTP -> Optional.of(FTP);
      case MYSQL -> Optional.empty(); // it asks for the password before it looks at the certificate
    };
  }

  /** The one for a service that speaks TLS from the beginning on this port. */
  static Optional<ServiceQuestion> ofPort(int port) {
    for (ServiceQuestion one : values()) {
      if (one.ports.contains(port)) {
        return Optional.of(one);
      }
    }
    return Optional.empty();
  }

  private static ServiceReply login(
      String answer, boolean goesOn, String giveUp, String bye, InputStream in, OutputStream out)
      throws IOException {
    String lower = answer.toLowerCase(Locale.ROOT);
    if (!goesOn) {
      // Whoever knows no such login says so, and means no certificate.
      return lower.contains("certificate") || lower.contains("cert ")
          ? ServiceReply.refused(VisibleText.of(answer))
          : ServiceReply.withheld(VisibleText.of(answer));
    }
    say(out, giveUp);
    String given = line(in);
    if (given.toLowerCase(Locale.ROOT).contains("certificate")) {
      return ServiceReply.refused(VisibleText.of(given));
    }
    say(out, bye);
    return ServiceReply.served("it asks who logs in");
  }

  /** What comes of a page, up to a bound. */
  private static String beginning(InputStream in) throws IOException {
    ByteArrayOutputStream page = new ByteArrayOutputStream();
    byte[] part = new byte[Limits.GREETING_LINE];
    while (page.size() < 4 * Limits.GREETING_LINE) {
      int count = in.read(part, 0, part.length);
      if (count < 0) {
        break;
      }
      page.write(part, 0, count);
      if (page.toString(StandardCharsets.ISO_8859_1).toLowerCase(Locale.ROOT).contains("</html>")) {
        break;
      }
    }
    return page.toString(StandardCharsets.ISO_8859_1);
  }
}
