// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.rule;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;

/**
 * Matches a regular expression that came from a file: one that would try for ever on some text is
 * stopped.
 */
public final class BoundedMatch {
  private static final Pattern COUNT = Pattern.compile("\\{([0-9]+)(?:,([0-9]+))?,?\\}");

  private BoundedMatch() {}

  /**
   * Refuses what is not a regular expression.
   *
   * @throws SymbolonException if it is none, or too long
   */
  public static void check(String pattern) {
    compiled(pattern);
  }

  private static Pattern compiled(String pattern) {
    if (pattern.length() > Limits.PATTERN) {
      throw wrong(pattern.substring(0, 40) + "...", "It has more than " + Limits.PATTERN + ".");
    }
    checkCounts(pattern);
    try {
      return Pattern.compile(pattern);
    } catch (PatternSyntaxException e) {
      throw wrong(pattern, "The platform says: " + VisibleText.of(e.getDescription()) + ".");
    }
  }

  /**
   * Refuses counts that multiply beyond reason: a repetition of nothing, repeated, runs for hours
   * without a look at the text. Counts that do not stand inside each other multiply here as well;
   * no rule for a name comes near the limit.
   */
  private static void checkCounts(String pattern) {
    long product = 1;
    Matcher counts = COUNT.matcher(pattern);
    while (counts.find()) {
      String most = counts.group(2) == null ? counts.group(1) : counts.group(2);
      product *=
          most.length() > 6 ? Limits.PATTERN_REPETITIONS + 1 : Math.max(1, Long.parseLong(most));
      if (product > Limits.PATTERN_REPETITIONS) {
        throw wrong(
            pattern,
            "Its counts ask for more than " + Limits.PATTERN_REPETITIONS + " repetitions in all.");
      }
    }
  }

  private static SymbolonException wrong(String pattern, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The pattern " + VisibleText.of(pattern) + " is not a regular expression.",
        seen,
        "Correct it in the rules.");
  }

  /**
   * {@return whether a pattern is found in a text}
   *
   * @param text the text; a long one may be looked at more often
   * @throws SymbolonException if the pattern is none, or trying it takes too long
   */
  public static boolean finds(String pattern, String text) {
    try {
      long looks = Math.max(Limits.PATTERN_LOOKS, 100L * text.length());
      return compiled(pattern).matcher(new CountedText(text, new AtomicLong(), looks)).find();
    } catch (TooManyLooks | StackOverflowError e) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "Whether " + VisibleText.of(pattern) + " is found in a text was not found out.",
          "Trying it takes too long.",
          "Write the pattern without one repetition inside another.",
          e);
    }
  }

  /** Whether the whole text is of the form. */
  static boolean matches(String pattern, String text) {
    try {
      return compiled(pattern)
          .matcher(new CountedText(text, new AtomicLong(), Limits.PATTERN_LOOKS))
          .matches();
    } catch (TooManyLooks | StackOverflowError e) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "Whether a value is of the form " + VisibleText.of(pattern) + " was not found out.",
          "Trying it takes too long.",
          "Write the pattern in the rules without one repetition inside another.",
          e);
    }
  }

  private static final class TooManyLooks extends RuntimeException {
    private static final long serialVersionUID = 1L;
  }

  /** A text that counts how often it is looked at. */
  private record CountedText(CharSequence text, AtomicLong looks, long most)
      implements CharSequence {
    @Override
    public int length() {
      return text.length();
    }

    @Override
    public char charAt(int index) {
      if (looks.incrementAndGet() > most) {
        throw new TooManyLooks();
      }
      return text.charAt(index);
    }

    @Override
    public CharSequence subSequence(int start, int end) {
      return new CountedText(text.subSequence(start, end), looks, most);
    }

    @Override
    public String toString() {
      return text.toString();
    }
  }
}
