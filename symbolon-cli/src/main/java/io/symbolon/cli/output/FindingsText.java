// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.cli.session.Session;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Prints findings for a person: the worst first, and of each kind only so many. */
public final class FindingsText {
  private static final int OF_A_KIND = 8;
  private static final Map<FindingKind, String> FOLDED =
      Map.of(
          FindingKind.NOTHING_KNOWN,
          "No key and no certificate is in these files",
          FindingKind.TEXT_LAYOUT,
          "Text around blocks, or line ends as on Windows, were passed over");
  private static final String INDENT = "           ";

  private FindingsText() {}

  /** What will not be there afterwards, told before anything is asked or written. */
  public static void beforeWriting(Session session, Output output, List<Finding> findings) {
    if (!output.isJson() && !findings.isEmpty()) {
      output.line(output.paint().heading("Before writing"));
      print(output, findings);
      output.line("");
      session.flush();
    }
  }

  public static void print(Output output, List<Finding> findings) {
    Map<String, Integer> printed = new HashMap<>();
    Map<String, Integer> hidden = new java.util.TreeMap<>();
    Map<FindingKind, List<Finding>> folded = folded(findings);
    for (Finding finding : findings) {
      if (isFoldable(finding) && folded.containsKey(finding.kind())) {
        continue;
      }
      if (printed.merge(finding.id(), 1, Integer::sum) > OF_A_KIND) {
        hidden.merge(finding.id(), 1, Integer::sum);
        continue;
      }
      String level = HoldingText.padded(finding.level().word(), 9);
      output.line(
          "  "
              + output.paint().level(finding.level(), level)
              + output.paint().heading(finding.id())
              + (finding.where().isEmpty() ? "" : output.paint().faint("  " + finding.where())));
      output.wrapped(INDENT, finding.statement(OptionNames::mention));
      output.remedy(INDENT, finding.remedy());
    }
    folded.values().forEach(alike -> folded(output, alike));
    hidden.forEach(
        (id, count) ->
            output.line(
                output.paint().faint("  and " + count + " more of " + id + "; --json lists all")));
  }

  /** What says the same of several files, with nothing to do about each of them. */
  private static Map<FindingKind, List<Finding>> folded(List<Finding> findings) {
    Map<FindingKind, List<Finding>> folded = new EnumMap<>(FindingKind.class);
    for (FindingKind kind : FOLDED.keySet()) {
      List<Finding> alike =
          findings.stream().filter(one -> one.is(kind) && isFoldable(one)).toList();
      if (alike.size() > 2) {
        folded.put(kind, alike);
      }
    }
    return folded;
  }

  private static void folded(Output output, List<Finding> alike) {
    Finding first = alike.get(0);
    output.line(
        "  "
            + output.paint().level(first.level(), HoldingText.padded(first.level().word(), 9))
            + output.paint().heading(first.id())
            + output.paint().faint("  " + HoldingText.count(alike.size(), "place")));
    String places =
        alike.stream()
            .limit(OF_A_KIND)
            .map(Finding::where)
            .distinct()
            .collect(Collectors.joining(", "));
    output.wrapped(
        INDENT,
        FOLDED.get(first.kind())
            + ": "
            + places
            + (alike.size() > OF_A_KIND
                ? " and " + (alike.size() - OF_A_KIND) + " more; --json lists all"
                : "")
            + ".");
  }

  /** Notes alone: what is a problem stands by itself, with what to do about it. */
  private static boolean isFoldable(Finding finding) {
    return finding.level() == Level.NOTE && FOLDED.containsKey(finding.kind());
  }

  /** A line such as "1 problem, 2 notes". */
  public static String summary(List<Finding> findings) {
    StringBuilder text = new StringBuilder();
    for (Level level : Level.values()) {
      long count = findings.stream().filter(f -> f.level() == level).count();
      if (count > 0) {
        text.append(text.isEmpty() ? "" : ", ")
            .append(count)
            .append(' ')
            .append(level.word())
            .append(count == 1 ? "" : "s");
      }
    }
    return text.isEmpty() ? "nothing to report" : text.toString();
  }
}
