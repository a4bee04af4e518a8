// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How long something is valid: seconds, hours, days, weeks or years of the calendar. {@link #parse}
 * and {@link #toString} round-trip.
 *
 * @param amount how many, at least 1
 * @param unit of what
 */
public record Lifetime(int amount, Unit unit) {
  private static final Pattern FORM = Pattern.compile("([1-9][0-9]{0,8})([shdwy])");
  private static final int LAST_YEAR = 9999; // the last that certificates can express

  /** The units. */
  public enum Unit {
    /** Seconds. */
    SECONDS("second"),
    /** Hours. */
    HOURS("hour"),
    /** Days. */
    DAYS("day"),
    /** Weeks. */
    WEEKS("week"),
    /** Years of the calendar. */
    YEARS("year");

    private final String title;

    Unit(String title) {
      this.title = title;
    }
  }

  /** Checks the amount. */
  public Lifetime {
    if (amount < 1) {
      throw new IllegalArgumentException("a lifetime is at least 1");
    }
  }

  /**
   * So many days.
   *
   * @param days how many days
   * @return the lifetime
   */
  public static Lifetime days(int days) {
    return new Lifetime(days, Unit.DAYS);
  }

  /**
   * So many years of the calendar.
   *
   * @param years how many years
   * @return the lifetime
   */
  public static Lifetime years(int years) {
    return new Lifetime(years, Unit.YEARS);
  }

  /**
   * {@return a lifetime such as {@code 397d}, {@code 8w}, {@code 10y} or {@code 12h}}
   *
   * @throws SymbolonException if the text is none
   */
  public static Lifetime parse(String text) {
    Matcher form = FORM.matcher(text);
    if (!form.matches()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(text) + "' is not a lifetime.",
          "A lifetime is a whole number with s (seconds), h (hours), d (days), w (weeks) or y (years) behind it.",
          "Write it like 397d or 10y.");
    }
    Unit unit =
        switch (form.group(2)) {
          case "s" -> Unit.SECONDS;
          case "h" -> Unit.HOURS;
          case "d" -> Unit.DAYS;
          case "w" -> Unit.WEEKS;
          default -> Unit.YEARS;
        };
    return new Lifetime(Integer.parseInt(form.group(1)), unit);
  }

  /**
   * {@return the moment at which it ends}
   *
   * @param start the moment it begins
   * @throws SymbolonException if that lies beyond the year 9999
   */
  public Instant from(Instant start) {
    if (unit == Unit.YEARS) {
      int year = start.atOffset(ZoneOffset.UTC).getYear();
      if (year + amount > LAST_YEAR) {
        throw beyond();
      }
      return start.atOffset(ZoneOffset.UTC).plusYears(amount).toInstant();
    }
    Duration duration =
        switch (unit) {
          case SECONDS -> Duration.ofSeconds(amount);
          case HOURS -> Duration.ofHours(amount);
          case DAYS -> Duration.ofDays(amount);
          default -> Duration.ofDays(7L * amount);
        };
    Instant end = start.plus(duration);
    if (end.atOffset(ZoneOffset.UTC).getYear() > LAST_YEAR) {
      throw beyond();
    }
    return end;
  }

  private SymbolonException beyond() {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "A lifetime of " + title() + " is too long.",
        "It ends after the year 9999, the last that a certificate can express.",
        "Choose a shorter one.");
  }

  /**
   * Such as {@code 397 days}.
   *
   * @return the text
   */
  public String title() {
    return amount + " " + unit.title + (amount == 1 ? "" : "s");
  }

  @Override
  public String toString() {
    return amount + unit.title.substring(0, 1);
  }
}
