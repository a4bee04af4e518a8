// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Finds failures of TLS in any text, such as a server's log or a client's stack trace, and says
 * what each means, on which side, and what mends it. What is about TLS and not known here is shown
 * as it is.
 */
public final class FailureText {
  private static final int SHOWN = 300;
  private static final int UNKNOWN_SHOWN = 10;

  private FailureText() {}

  /**
   * A failure that was found.
   *
   * @param line the number of the first line with it, from 1
   * @param text that line, safe to be shown
   * @param times in how many lines it is
   * @param finding what it means
   */
  public record Explanation(int line, String text, int times, Finding finding) {}

  /**
   * {@return all failures in a text, in the order in which they appear}
   *
   * @param text the text
   * @param where what to name in the findings
   */
  public static List<Explanation> explain(String text, String where) {
    Map<FindingKind, Explanation> found = new LinkedHashMap<>();
    List<Explanation> unknown = new ArrayList<>();
    int number = 0;
    for (String line : (Iterable<String>) text.lines()::iterator) {
      number++;
      String looked = line.length() > Limits.LOG_LINE ? line.substring(0, Limits.LOG_LINE) : line;
      Optional<KnownFailure> known = KnownFailure.in(looked);
      if (known.isPresent()) {
        int first = number;
        found.merge(
            known.get().kind(),
            new Explanation(first, shown(looked), 1, known.get().finding(where, looked)),
            (old, again) ->
                new Explanation(old.line(), old.text(), old.times() + 1, old.finding()));
      } else if (isAboutTls(looked) && unknown.size() < UNKNOWN_SHOWN) {
        unknown.add(new Explanation(number, shown(looked), 1, unexplained(looked, where)));
      }
    }
    // What is not known is worth a word only where nothing is.
    return found.isEmpty() ? List.copyOf(unknown) : List.copyOf(found.values());
  }

  /**
   * {@return what an exception of the platform means: of a handshake, a keystore or a certificate}
   * The deepest cause that is known counts, because those above it only say that it failed.
   *
   * @param failure the failure
   * @param where what to name in the finding
   */
  public static Finding explain(Throwable failure, String where) {
    List<Throwable> causes = new ArrayList<>();
    for (Throwable at = failure;
        at != null && causes.size() < Limits.CAUSES && !causes.contains(at);
        at = at.getCause()) {
      causes.add(0, at);
    }
    for (Throwable cause : causes) {
      Optional<KnownFailure> known = KnownFailure.in(cause.toString());
      if (known.isPresent()) {
        return known.get().finding(where, cause.toString());
      }
    }
    return unexplained(failure.toString(), where);
  }

  /**
   * {@return what a single message means, if that is known}
   *
   * @param message the message
   * @param where the place to name, such as a file; may be empty
   */
  public static Optional<Finding> one(String message, String where) {
    return KnownFailure.in(message).map(known -> known.finding(where));
  }

  private static boolean isAboutTls(String line) {
    String lower = line.toLowerCase(Locale.ROOT);
    boolean failed =
        List.of("error", "fail", "exception", "alert", "fatal", "refused", "invalid").stream()
            .anyMatch(lower::contains);
    return failed
        && List.of("ssl", "tls", "certificate", "handshake", "pkix", "x509").stream()
            .anyMatch(lower::contains);
  }

  private static Finding unexplained(String line, String where) {
    return Finding.of(
        FindingKind.NOT_EXPLAINED,
        where,
        "This failure is not explained here: " + shown(line) + ".",
        Remedy.of(
            "Rehearse it with the files of both sides, or look at the running server.",
            Action.of(Task.REHEARSE).with(Input.SERVER).with(Input.CLIENT_TRUST),
            Action.of(Task.PROBE)));
  }

  private static String shown(String line) {
    String safe = VisibleText.of(line.strip());
    return safe.length() > SHOWN ? safe.substring(0, SHOWN) + "..." : safe;
  }
}
