// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.failure.SymbolonException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;

/**
 * UTCTime and GeneralizedTime (RFC 5280, 4.1.2.5): both end in {@code Z}. Two deviations that
 * certificates in use really contain are read: seconds left out, and fractions of a second.
 */
final class Times {
  private static final int FIRST_GENERALIZED_YEAR = 2050;

  private Times() {}

  static Instant read(int tag, byte[] bytes, int from, int to) {
    int yearDigits =
        switch (tag) {
          case Tags.UTC_TIME -> 2;
          case Tags.GENERALIZED_TIME -> 4;
          default ->
              throw SymbolonException.malformed(
                  "time", "There is " + Tags.name(tag) + " where a time should be.");
        };
    int at = from;
    int year = digits(bytes, at, to, yearDigits);
    at += yearDigits;
    if (yearDigits == 2) {
      year += year < 50 ? 2000 : 1900;
    }
    int month = digits(bytes, at, to, 2);
    int day = digits(bytes, at + 2, to, 2);
    int hour = digits(bytes, at + 4, to, 2);
    int minute = digits(bytes, at + 6, to, 2);
    at += 8;
    int second = 0;
    if (at < to && bytes[at] != 'Z') {
      second = digits(bytes, at, to, 2);
      at += 2;
    }
    if (tag == Tags.GENERALIZED_TIME && at < to && bytes[at] == '.') {
      at++;
      while (at < to && bytes[at] >= '0' && bytes[at] <= '9') {
        at++;
      }
    }
    if (at != to - 1 || bytes[at] != 'Z') {
      throw malformed(bytes, from, to);
    }
    try {
      return LocalDateTime.of(year, month, day, hour, minute, second).toInstant(ZoneOffset.UTC);
    } catch (DateTimeException e) {
      throw malformed(bytes, from, to);
    }
  }

  private static int digits(byte[] bytes, int from, int to, int count) {
    if (from + count > to) {
      throw SymbolonException.malformed("time", "It breaks off.");
    }
    int value = 0;
    for (int i = from; i < from + count; i++) {
      if (bytes[i] < '0' || bytes[i] > '9') {
        throw SymbolonException.malformed("time", "There is something other than a digit in it.");
      }
      value = 10 * value + (bytes[i] - '0');
    }
    return value;
  }

  private static SymbolonException malformed(byte[] bytes, int from, int to) {
    String text = new String(bytes, from, Math.min(to - from, 32), StandardCharsets.ISO_8859_1);
    return SymbolonException.malformed(
        "time", "'" + io.symbolon.text.VisibleText.of(text) + "' is not a time in UTC.");
  }

  static byte[] write(Instant time) {
    return write(time, false);
  }

  static byte[] write(Instant time, boolean always) {
    LocalDateTime utc =
        LocalDateTime.ofInstant(time.truncatedTo(ChronoUnit.SECONDS), ZoneOffset.UTC);
    int year = utc.getYear();
    if (year < 1950 || year > 9999) {
      throw new IllegalArgumentException("no certificate can carry the time " + time);
    }
    String rest =
        String.format(
            "%02d%02d%02d%02d%02dZ",
            utc.getMonthValue(),
            utc.getDayOfMonth(),
            utc.getHour(),
            utc.getMinute(),
            utc.getSecond());
    boolean generalized = always || year >= FIRST_GENERALIZED_YEAR;
    String text =
        (generalized ? String.format("%04d", year) : String.format("%02d", year % 100)) + rest;
    return Der.tagged(
        generalized ? Tags.GENERALIZED_TIME : Tags.UTC_TIME,
        text.getBytes(StandardCharsets.US_ASCII));
  }
}
