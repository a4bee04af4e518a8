// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Asks a port in clear text, whether it sends clients to TLS (RFC 9110, 15.4). */
final class RedirectProbe {
  private static final int MOST = 8192;
  private static final Pattern STATUS = Pattern.compile("HTTP/[0-9.]+ ([0-9]{3})");
  private static final Pattern LOCATION =
      Pattern.compile(
          "^location:[ \\t]*([^\\r\\n]*)", Pattern.CASE_INSENSITIVE | Pattern.MULTILINE);

  private final String address;
  private final int port;
  private final String host;
  private final int limit;

  /**
   * One question.
   *
   * @param address where it listens
   * @param host the name that is asked for
   * @param limit how long each answer may take, in milliseconds
   */
  RedirectProbe(String address, int port, String host, int limit) {
    this.address = address;
    this.port = port;
    this.host = host;
    this.limit = limit;
  }

  /** What is wrong; nothing where it sends clients to TLS. */
  Optional<Finding> run() {
    String head;
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress(address, port), limit);
      socket.setSoTimeout(limit);
      String name = host.indexOf(':') >= 0 ? "[" + host + "]" : host;
      String request =
          "GET / HTTP/1.1\r\nHost: "
              + (port == 80 ? name : name + ":" + port)
              + "\r\nUser-Agent: symbolon\r\nAccept: */*\r\nConnection: close\r\n\r\n";
      socket.getOutputStream().write(request.getBytes(StandardCharsets.US_ASCII));
      head = head(socket.getInputStream());
    } catch (IOException e) {
      return Optional.of(
          finding(
              FindingKind.NO_ANSWER,
              "Nobody answers in clear text there: "
                  + VisibleText.of(String.valueOf(e.getMessage()))
                  + "."));
    }
    Matcher status = STATUS.matcher(head);
    Matcher location = LOCATION.matcher(head);
    boolean sent =
        status.lookingAt()
            && status.group(1).startsWith("3")
            && location.find()
            && location.group(1).toLowerCase(Locale.ROOT).startsWith("https://");
    return sent
        ? Optional.empty()
        : Optional.of(
            finding(
                FindingKind.SETTING_IGNORED,
                "A client in clear text is not sent to TLS. The server answers: "
                    + VisibleText.of(head.lines().findFirst().orElse("nothing"))
                    + "."));
  }

  /** Octets up to the empty line, within a bound; a server that trickles has one limit for all. */
  private String head(InputStream in) throws IOException {
    StringBuilder head = new StringBuilder();
    long end = System.nanoTime() + limit * 1_000_000L;
    while (head.length() < MOST && head.indexOf("\r\n\r\n") < 0 && System.nanoTime() < end) {
      int octet = in.read();
      if (octet < 0) {
        break;
      }
      head.append((char) octet);
    }
    return head.toString();
  }

  private Finding finding(FindingKind kind, String statement) {
    return Finding.of(
        kind,
        Level.PROBLEM,
        address + ":" + port,
        statement,
        "Look for another place of the settings that answers on this port first.");
  }
}
