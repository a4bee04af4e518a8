// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.compare;

import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.compare.Compared;
import io.symbolon.compare.Comparison;
import io.symbolon.compare.Difference;
import io.symbolon.compare.Relation;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Holding;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/** A comparison for a person: what changed first, what is the same as a number. */
final class CompareText {
  private static final int SHOWN = 60; // things of one relation
  private static final int VALUES_SHOWN = 12; // values of one difference
  private static final int LABEL = 12; // the width of what stands in front

  private final Output output;
  private final Paint paint;
  private final List<String> names;
  private final Comparison comparison;
  private final boolean details;

  CompareText(Output output, List<Path> paths, Comparison comparison, boolean details) {
    this.output = output;
    this.paint = output.paint();
    this.names = paths.stream().map(Output::shown).toList();
    this.comparison = comparison;
    this.details = details;
  }

  void print(List<Finding> notices) {
    output.line(paint.heading("Compared " + names.get(0) + " with " + names.get(1)));
    for (Relation relation :
        List.of(Relation.RENEWED, Relation.OLDER, Relation.DIFFERENT, Relation.SAME)) {
      section(
          comparison.all().stream()
              .filter(one -> one.relation() == relation && (details || !one.isSame()))
              .toList());
    }
    same();
    section(of(Relation.ONLY_ONE));
    section(of(Relation.ONLY_OTHER));
    output.line("");
    output.wrapped("  ", verdict());
    List<Finding> findings = new ArrayList<>(comparison.findings());
    findings.addAll(notices);
    new FindingsSection(output).print(findings);
  }

  private List<Compared> of(Relation relation) {
    return comparison.all().stream().filter(one -> one.relation() == relation).toList();
  }

  private void section(List<Compared> all) {
    for (Compared one : all.subList(0, Math.min(SHOWN, all.size()))) {
      thing(one);
    }
    if (all.size() > SHOWN) {
      output.line(
          paint.faint(
              "  and "
                  + (all.size() - SHOWN)
                  + " more that are "
                  + word(all.get(0).relation())
                  + "; --json lists all"));
    }
  }

  private void thing(Compared one) {
    output.line(
        "  "
            + marked(one)
            + HoldingText.of(one.latest())
            + paint.faint("  " + one.latest().place()));
    for (Difference difference : one.differences()) {
      String label = HoldingText.padded(word(difference.field()), LABEL);
      List<String> lines = new ArrayList<>();
      difference.one().forEach(value -> lines.add("- " + VisibleText.of(value)));
      difference.other().forEach(value -> lines.add("+ " + VisibleText.of(value)));
      for (String line : lines.subList(0, Math.min(VALUES_SHOWN, lines.size()))) {
        output.line("    " + label + line);
        label = " ".repeat(LABEL);
      }
      if (lines.size() > VALUES_SHOWN) {
        output.line(
            paint.faint("    " + label + "and " + (lines.size() - VALUES_SHOWN) + " more; --json"));
      }
    }
  }

  private String marked(Compared one) {
    String word = HoldingText.padded(label(one), LABEL);
    return one.relation() == Relation.SAME ? paint.good(word) : paint.heading(word);
  }

  /** What is the same is worth a line for each kind. */
  private void same() {
    Map<String, Integer> kinds = new TreeMap<>();
    comparison.all().stream()
        .filter(Compared::isSame)
        .forEach(one -> kinds.merge(HoldingText.kind(one.first()), 1, Integer::sum));
    if (!details && !kinds.isEmpty()) {
      List<String> counts = new ArrayList<>();
      kinds.forEach((kind, count) -> counts.add(HoldingText.count(count, kind)));
      output.line("  " + paint.good(HoldingText.padded("same", LABEL)) + String.join(", ", counts));
    }
  }

  private String verdict() {
    if (comparison.all().isEmpty()) {
      return comparison.isWhole()
          ? "There is nothing to compare in either."
          : "Nothing was compared.";
    }
    if (comparison.isSame()) {
      return "They hold the same.";
    }
    boolean whole = comparison.isWhole();
    if (comparison.all().stream().allMatch(Compared::isSame)) {
      return "What could be read is the same. The rest was not compared.";
    }
    List<String> counts = new ArrayList<>();
    for (Relation relation : Relation.values()) {
      long count = of(relation).stream().filter(one -> !one.isSame()).count();
      if (count > 0) {
        counts.add(count + " " + sentenceWord(relation));
      }
    }
    long same = comparison.all().stream().filter(Compared::isSame).count();
    return "They differ: "
        + String.join(", ", counts)
        + (same == 0 ? "" : "; " + same + (same == 1 ? " is" : " are") + " the same")
        + (whole ? "." : ". A part of them was not compared.");
  }

  private String sentenceWord(Relation relation) {
    return switch (relation) {
      case SAME -> "under another alias";
      case RENEWED -> "renewed";
      case OLDER -> "older in " + names.get(1);
      case DIFFERENT -> "different";
      case ONLY_ONE -> "only in " + names.get(0);
      case ONLY_OTHER -> "only in " + names.get(1);
    };
  }

  private static String word(Relation relation) {
    return switch (relation) {
      case SAME -> "same";
      case RENEWED -> "renewed";
      case OLDER -> "older";
      case DIFFERENT -> "different";
      case ONLY_ONE -> "gone";
      case ONLY_OTHER -> "new";
    };
  }

  /** A key has no date: another one in its place is no older and no newer. */
  private static String label(Compared one) {
    return one.relation() == Relation.DIFFERENT && one.first() instanceof Holding.PrivateKey
        ? "another"
        : word(one.relation());
  }

  private static String word(Difference.Field field) {
    return field.name().toLowerCase(Locale.ROOT);
  }
}
