// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.mariadb;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;

/**
 * An account of a MariaDB, with what it wants of a connection.
 *
 * @param host from where it comes, such as {@code %}
 * @param require the clause that says what it wants now, behind the word REQUIRE
 */
record Account(String user, String host, String require) {
  /** What is asked; values as hexadecimal digits, so that no character of theirs matters. */
  static String question(String user) {
    return "SELECT CONCAT_WS(' ', 'account', CONCAT('h', HEX(Host)), CONCAT('t', HEX(ssl_type)),"
        + " CONCAT('s', HEX(x509_subject)), CONCAT('i', HEX(x509_issuer)), CONCAT('c',"
        + " HEX(ssl_cipher))) FROM mysql.user WHERE User = "
        + quoted(user);
  }

  static List<Account> read(String user, String output) {
    List<Account> all = new ArrayList<>();
    for (String line : output.lines().toList()) {
      String[] words = line.strip().split(" ", -1);
      if (words.length == 6 && words[0].equals("account")) {
        all.add(new Account(user, text(words[1]), require(words)));
      }
    }
    return all;
  }

  private static String require(String[] words) {
    return switch (text(words[2])) {
      case "" -> "NONE";
      case "ANY" -> "SSL";
      case "X509" -> "X509";
      case "SPECIFIED" -> {
        List<String> parts = new ArrayList<>();
        part(parts, "SUBJECT", text(words[3]));
        part(parts, "ISSUER", text(words[4]));
        part(parts, "CIPHER", text(words[5]));
        yield String.join(" AND ", parts);
      }
      default ->
          throw new SymbolonException(
              Reason.UNSUPPORTED,
              "No account of MariaDB was changed.",
              "The account wants " + VisibleText.of(text(words[2])) + ", which is not known here.",
              "Leave " + Input.ROLE.mention() + " out, and change the account by hand.");
    };
  }

  private static void part(List<String> parts, String word, String value) {
    if (!value.isEmpty()) {
      parts.add(word + ' ' + quoted(value));
    }
  }

  private static String text(String word) {
    return new String(HexFormat.of().parseHex(word.substring(1)), StandardCharsets.UTF_8);
  }

  /** A value in a statement; the backslash is one that escapes, since the session says so. */
  static String quoted(String value) {
    return '\'' + value.replace("\\", "\\\\").replace("'", "''") + '\'';
  }

  String altered(String clause) {
    return "ALTER USER " + quoted(user) + '@' + quoted(host) + " REQUIRE " + clause;
  }
}
