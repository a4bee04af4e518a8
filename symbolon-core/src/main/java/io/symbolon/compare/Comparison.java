// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Remedy;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import java.util.ArrayList;
import java.util.List;

/**
 * Two sets of files side by side: every private key, certificate, request and revocation list of
 * the one with what it has become in the other.
 *
 * @param one the one side
 * @param other the other side
 * @param all everything that is on either side, certificates that were renewed before those that
 *     stand alone
 * @param findings what is to be said of it
 */
public record Comparison(Survey one, Survey other, List<Compared> all, List<Finding> findings) {
  /** Copies the lists. */
  public Comparison {
    all = List.copyOf(all);
    findings = List.copyOf(findings);
  }

  /**
   * {@return what two sides have in common, and what differs}
   *
   * @param one the one side, such as the older one
   * @param other the other side
   */
  public static Comparison of(Survey one, Survey other) {
    List<Compared> all = new ArrayList<>(new Pairing(one, other).all());
    List<Finding> findings = new ArrayList<>();
    closed(one, findings);
    closed(other, findings);
    all.stream()
        .filter(pair -> pair.relation() == Relation.RENEWED)
        .forEach(pair -> RenewalCheck.check(pair, findings));
    return new Comparison(one, other, all, findings);
  }

  /** {@return whether both sides hold the same; false where a part of either stayed closed} */
  public boolean isSame() {
    return all.stream().allMatch(Compared::isSame) && isWhole();
  }

  /** {@return whether all of both sides could be read and opened} */
  public boolean isWhole() {
    return one.failures().isEmpty()
        && other.failures().isEmpty()
        && findings.stream().noneMatch(finding -> finding.is(FindingKind.NOT_COMPARED));
  }

  /** What could not be looked into was not compared. */
  private static void closed(Survey side, List<Finding> findings) {
    for (FileSurvey file : side.files()) {
      if (file.locked() || file.failure().isPresent()) {
        findings.add(
            Finding.of(
                FindingKind.NOT_COMPARED,
                io.symbolon.text.VisibleText.of(file.path().toString()),
                (file.locked() ? "A part of it is locked" : "A part of it can't be read")
                    + ", and was not compared.",
                file.failure().map(SymbolonException::remedy).orElse(Remedy.of(""))));
      }
    }
  }
}
