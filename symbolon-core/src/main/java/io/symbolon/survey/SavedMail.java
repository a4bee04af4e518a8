// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.limit.Limits;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Recognises a mail that was saved as a file, by the fields at its beginning (RFC 5322, 3.6). */
final class SavedMail {
  private static final int HEAD =
      64 << 10; // octets; more fields than this has no mail that matters
  private static final Set<String> FIELDS =
      Set.of(
          "from",
          "date",
          "to",
          "subject",
          "message-id",
          "received",
          "return-path",
          "mime-version",
          "content-type",
          "reply-to",
          "delivered-to");

  private static final String MAILBOX = "From ";

  private SavedMail() {}

  /** Whether it begins with at least three different fields of a mail, one of them telling. */
  static boolean isOne(byte[] octets) {
    if (octets.length < 20 || !isLetter(octets[0])) {
      return false;
    }
    String head = new String(octets, 0, Math.min(octets.length, HEAD), StandardCharsets.ISO_8859_1);
    Set<String> seen = new HashSet<>();
    boolean first = true;
    for (String line : head.split("\r?\n", -1)) {
      if (line.isEmpty()) {
        break;
      }
      int colon = line.indexOf(':');
      boolean folded = line.charAt(0) == ' ' || line.charAt(0) == '\t';
      boolean mailbox = first && line.startsWith(MAILBOX);
      first = false;
      if (folded || mailbox) {
        continue;
      }
      if (colon < 1 || !line.substring(0, colon).matches("[!-9;-~]+")) {
        return false;
      }
      String field = line.substring(0, colon).toLowerCase(Locale.ROOT);
      if (FIELDS.contains(field)) {
        seen.add(field);
      }
    }
    return seen.size() >= 3 || (seen.contains("mime-version") && seen.contains("content-type"));
  }

  /** The mails of a mailbox, or the one that it is. */
  static List<byte[]> each(byte[] octets) {
    List<byte[]> mails = new ArrayList<>();
    int start = 0;
    for (int i = 0; i < octets.length && mails.size() < Limits.ARCHIVE_FILES; i++) {
      boolean blank = i >= 2 && octets[i - 1] == '\n' && isLineEnd(octets, i - 2);
      if (blank && startsMail(octets, i)) {
        mails.add(Arrays.copyOfRange(octets, start, i));
        start = i;
      }
    }
    mails.add(Arrays.copyOfRange(octets, start, octets.length));
    return startsMail(octets, 0) ? mails : List.of(octets);
  }

  private static boolean isLineEnd(byte[] octets, int at) {
    return octets[at] == '\n' || (at >= 1 && octets[at] == '\r' && octets[at - 1] == '\n');
  }

  private static boolean startsMail(byte[] octets, int at) {
    for (int i = 0; i < MAILBOX.length(); i++) {
      if (at + i >= octets.length || octets[at + i] != MAILBOX.charAt(i)) {
        return false;
      }
    }
    return true;
  }

  private static boolean isLetter(byte octet) {
    return (octet >= 'A' && octet <= 'Z') || (octet >= 'a' && octet <= 'z');
  }
}
