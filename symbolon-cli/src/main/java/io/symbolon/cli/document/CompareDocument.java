// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.compare.Compared;
import io.symbolon.compare.Comparison;
import io.symbolon.compare.Difference;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The document of compare. */
public record CompareDocument(
    String command,
    @JsonPropertyDescription("The older side, as it was named.") String one,
    @JsonPropertyDescription("The other side, as it was named.") String other,
    @JsonPropertyDescription(
            "Whether both hold the same under the same aliases; false where a part could not be"
                + " compared.")
        boolean same,
    @JsonPropertyDescription("Whether all of both could be read and opened.") boolean whole,
    List<Thing> things,
    List<FindingDocument> findings) {
  /** Something that is on one side or on both. */
  public record Thing(
      @JsonPropertyDescription("private-key, certificate, request, revocation-list, ...")
          String kind,
      @JsonPropertyDescription(
              "same, renewed, older, different, only-one (on the older side alone) or only-other.")
          String relation,
      @JsonPropertyDescription("It on the older side.") Optional<HoldingDocument> one,
      @JsonPropertyDescription("It on the other side.") Optional<HoldingDocument> other,
      @JsonPropertyDescription("Where it lies on the older side.") List<String> oneAt,
      @JsonPropertyDescription("Where it lies on the other side.") List<String> otherAt,
      List<Differing> differences) {}

  /** Something in which two differ. */
  public record Differing(
      @JsonPropertyDescription("alias, names, validity, key, ...") String field,
      @JsonPropertyDescription("What the older side has alone.") List<String> one,
      @JsonPropertyDescription("What the other side has alone.") List<String> other) {
    private static Differing of(Difference difference) {
      return new Differing(Words.of(difference.field()), difference.one(), difference.other());
    }
  }

  /** The document of a comparison. */
  public static CompareDocument of(
      List<Path> paths, Comparison comparison, List<Finding> more, CommandText commands) {
    List<Finding> findings = new ArrayList<>(comparison.findings());
    findings.addAll(more);
    return new CompareDocument(
        "compare",
        paths.get(0).toString(),
        paths.get(1).toString(),
        comparison.isSame(),
        comparison.isWhole(),
        comparison.all().stream().map(thing -> thing(thing, comparison)).toList(),
        FindingDocument.all(findings, commands));
  }

  private static Thing thing(Compared thing, Comparison comparison) {
    return new Thing(
        HoldingText.kind(thing.first()).replace(' ', '-'),
        Words.of(thing.relation()),
        first(thing.one(), comparison.one()),
        first(thing.other(), comparison.other()),
        places(thing.one()),
        places(thing.other()),
        thing.differences().stream().map(Differing::of).toList());
  }

  private static Optional<HoldingDocument> first(List<? extends Holding> places, Survey side) {
    return places.stream()
        .findFirst()
        .map(holding -> new HoldingDocument.Writer(side, false).of(holding));
  }

  private static List<String> places(List<? extends Holding> places) {
    return places.stream().map(holding -> holding.place().toString()).toList();
  }
}
