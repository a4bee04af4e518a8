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
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Finds failures of TLS in any text, such as a server's log or a client's stack trace, and says
 * what each means, on which side, and what mends it. What is about TLS and not known here is shown
 * as it is.
 */
public final class FailureText {
  private static final int SHOWN = 300;
  private static final int UNKNOWN_SHOWN = 10;
  private static final int NEAR = 3; // lines: servers write the reason beside the failure

  /** A line that belongs to the exception above it. */
  private static final Pattern CONTINUED =
      Pattern.compile(
          "^\\s*(at [\\w.$/<>]+\\(|Caused by: |Suppressed: |\\.\\.\\. \\d+ (more|common))");

  private static final Pattern NUMBER = Pattern.compile("[0-9]+");
  private static final String TRACEBACK = "Traceback (most recent call last)";

  private static final Pattern FRAME =
      Pattern.compile(
          "^\\s*(at [\\w.$/<>\\[\\] ]+\\(|at node:|\\.\\.\\. \\d+ (more|common)|File \"|Traceback )");

  private static final WordSearch TLS_FAILED =
      new WordSearch(
          List.of(
              List.of("error", "fail", "exception", "alert", "fatal", "refused", "invalid"),
              List.of("ssl", "tls", "certificate", "handshake", "pkix", "x509")));

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
   * @param where what to name in the findings
   */
  public static List<Explanation> explain(String text, String where) {
    Map<FindingKind, Explanation> found = new LinkedHashMap<>();
    Map<String, Explanation> unknown = new LinkedHashMap<>();
    Lines lines = new Lines(text.lines().toList());
    for (int from = 0; from < lines.size(); ) {
      int end = endOfTrace(lines.all(), from);
      if (end > from + 1 || !isToldNearby(lines, from)) {
        told(lines, from, end, where, found, unknown);
      }
      from = end;
    }
    List<Explanation> all = new ArrayList<>(found.values());
    all.addAll(unknown.values());
    all.sort(Comparator.comparingInt(Explanation::line));
    return List.copyOf(all);
  }

  /** The lines of a text, each of which is looked at once, however many ask. */
  private static final class Lines {
    private final List<String> all;
    private final List<@Nullable Optional<KnownFailure>> known;

    Lines(List<String> all) {
      this.all = all;
      this.known = new ArrayList<>(java.util.Collections.nCopies(all.size(), null));
    }

    List<String> all() {
      return all;
    }

    int size() {
      return all.size();
    }

    String get(int at) {
      return cut(all.get(at));
    }

    Optional<KnownFailure> known(int at) {
      Optional<KnownFailure> before = known.get(at);
      if (before == null) {
        before = KnownFailure.in(get(at));
        known.set(at, before);
      }
      return before;
    }
  }

  /** Whether a line only says that it failed, and one beside it says why. */
  private static boolean isToldNearby(Lines lines, int at) {
    if (!isGeneral(lines.known(at))) {
      return false;
    }
    for (int near = Math.max(0, at - NEAR); near <= Math.min(lines.size() - 1, at + NEAR); near++) {
      Optional<KnownFailure> other = lines.known(near);
      if (other.isPresent() && !isGeneral(other)) {
        return true;
      }
    }
    return false;
  }

  private static boolean isGeneral(Optional<KnownFailure> known) {
    return known
        .filter(
            one ->
                one.kind() == FindingKind.SERVER_FILES_NOT_USED
                    || one.kind() == FindingKind.HANDSHAKE_FAILED)
        .isPresent();
  }

  /**
   * The line behind an exception with its causes: they tell of one failure. A line that is no
   * exception is alone.
   */
  private static int endOfTrace(List<String> lines, int from) {
    int end = from + 1;
    if (lines.get(from).startsWith(TRACEBACK)) { // the exception stands behind its frames
      while (end < lines.size() && lines.get(end).startsWith(" ")) {
        end++;
      }
      return Math.min(lines.size(), end + 1);
    }
    while (end < lines.size() && CONTINUED.matcher(lines.get(end)).lookingAt()) {
      end++;
    }
    return end;
  }

  /** What the lines of one failure tell: of causes, the deepest that is known counts. */
  private static void told(
      Lines lines,
      int from,
      int end,
      String where,
      Map<FindingKind, Explanation> found,
      Map<String, Explanation> unknown) {
    boolean traceback = lines.get(from).startsWith(TRACEBACK);
    for (int at = end - 1; at >= from; at--) {
      String looked = lines.get(at); // of a very long line the beginning
      if (traceback && at < end - 1) {
        break; // what stands above the exception is source text
      }
      Optional<KnownFailure> known =
          FRAME.matcher(looked).lookingAt()
              ? Optional.empty()
              : traceback
                  ? KnownFailure.in(looked + aboutFiles(lines.all(), from, end))
                  : lines.known(at);
      if (known.isPresent()) {
        Explanation before = found.get(known.get().kind());
        found.put(
            known.get().kind(),
            before != null
                ? again(before)
                : new Explanation(at + 1, shown(looked), 1, known.get().finding(where, looked)));
        return;
      }
    }
    for (int at = end - 1; at >= from; at--) {
      String looked = lines.get(at); // of a very long line the beginning
      boolean told = FRAME.matcher(looked).lookingAt() || (traceback && at < end - 1);
      if (!told && isAboutTls(looked) && !KnownFailure.isNothing(looked)) {
        String kind = NUMBER.matcher(looked).replaceAll("#");
        Explanation before = unknown.get(kind);
        if (before != null) {
          unknown.put(kind, again(before));
        } else if (unknown.size() < UNKNOWN_SHOWN) { // no more are shown
          unknown.put(kind, new Explanation(at + 1, shown(looked), 1, unexplained(looked, where)));
        }
        return;
      }
    }
  }

  /** An exception about a file says in its frames alone what the file is for. */
  private static String aboutFiles(List<String> lines, int from, int end) {
    boolean files =
        lines.subList(from, end).stream()
            .anyMatch(
                line ->
                    line.contains("load_verify_locations")
                        || line.contains("load_cert_chain")
                        || line.contains("cafile"));
    return files ? " (a file of certificates)" : "";
  }

  private static Explanation again(Explanation old) {
    return new Explanation(old.line(), old.text(), old.times() + 1, old.finding());
  }

  private static String cut(String line) {
    return line.length() > Limits.LOG_LINE ? line.substring(0, Limits.LOG_LINE) : line;
  }

  /**
   * {@return what an exception of the platform means: of a handshake, a keystore or a certificate}
   * The deepest cause that is known counts, because those above it only say that it failed.
   *
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
   * @param where the place to name, such as a file; may be empty
   */
  public static Optional<Finding> one(String message, String where) {
    return KnownFailure.in(message).map(known -> known.finding(where));
  }

  private static boolean isAboutTls(String line) {
    return TLS_FAILED.groupsIn(line.toLowerCase(Locale.ROOT)).cardinality() == 2;
  }

  private static Finding unexplained(String line, String where) {
    return Finding.of(
        FindingKind.NOT_EXPLAINED,
        where,
        "This failure is not explained here: "
            + shown(line)
            + (shown(line).endsWith(".") ? "" : "."),
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
