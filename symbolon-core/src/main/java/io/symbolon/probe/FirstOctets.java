// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What the first octets of a server tell that does not begin with TLS.
 *
 * @param what what it is, as in "a mail server"
 * @param service how TLS begins there, where it can
 */
record FirstOctets(String what, Optional<StartWith> service) {
  private static final Pattern SERVER_VERSION = Pattern.compile("[0-9][0-9A-Za-z.+~:-]*");

  static Optional<FirstOctets> of(byte[] octets) {
    if (DatabaseGreeting.isBegun(octets)) {
      Matcher version =
          SERVER_VERSION.matcher(
              new String(octets, 5, octets.length - 5, StandardCharsets.ISO_8859_1));
      return known(
          "a MariaDB server, or one that speaks as it does"
              + (version.lookingAt() ? ", of version " + VisibleText.of(version.group()) : ""),
          StartWith.MYSQL);
    }
    String text = new String(octets, StandardCharsets.ISO_8859_1);
    if (text.startsWith("220") && text.toUpperCase(java.util.Locale.ROOT).contains("FTP")) {
      return known("a file server (FTP)", StartWith.FTP);
    }
    if (text.startsWith("220 ") || text.startsWith("220-") || text.startsWith("554 ")) {
      return known("a mail server", StartWith.SMTP);
    }
    if (text.startsWith("* OK") || text.startsWith("* BYE")) {
      return known("a server for mailboxes (IMAP)", StartWith.IMAP);
    }
    if (text.startsWith("+OK")) {
      return known("a server for mailboxes (POP3)", StartWith.POP3);
    }
    if (text.startsWith("HTTP/")) {
      return Optional.of(
          new FirstOctets("a web server without TLS (plain HTTP)", Optional.empty()));
    }
    if (text.startsWith("SSH-")) {
      return Optional.of(new FirstOctets("a server for remote logins (SSH)", Optional.empty()));
    }
    if (text.startsWith("-ERR") || text.startsWith("-DENIED")) {
      return Optional.of(new FirstOctets("a Redis server without TLS", Optional.empty()));
    }
    return Optional.empty();
  }

  private static Optional<FirstOctets> known(String what, StartWith service) {
    return Optional.of(new FirstOctets(what, Optional.of(service)));
  }

  Finding finding(String where, int port) {
    String statement =
        "What answers does not begin with TLS. By its first octets, it is " + what + ".";
    return Finding.of(
        FindingKind.NO_TLS,
        where,
        statement,
        service.isPresent()
            ? Remedy.of(
                "Begin in clear text, as its clients do.",
                Action.again().with(Input.START_WITH, service.get().word()))
            : Remedy.of(
                "Check the port ("
                    + port
                    + "): TLS often has another one. Or TLS is not switched on in the server."));
  }
}
