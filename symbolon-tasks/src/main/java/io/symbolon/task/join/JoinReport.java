// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.join;

import io.symbolon.finding.Finding;
import io.symbolon.join.Joined;
import io.symbolon.key.Fit;
import io.symbolon.survey.Survey;
import io.symbolon.task.result.WrittenResult;
import java.util.List;

/**
 * What was joined, and where it went.
 *
 * @param joined the credential with its chain
 * @param alias its alias in the result
 * @param inPlace whether a waiting key got its certificate in its keystore
 * @param kept whether the other entries of a keystore stayed
 * @param result what was written
 * @param findings what is to be said
 * @param survey what was read
 */
public record JoinReport(
    Joined joined,
    String alias,
    boolean inPlace,
    boolean kept,
    WrittenResult result,
    List<Finding> findings,
    Survey survey) {
  /** Copies the list. */
  public JoinReport {
    findings = List.copyOf(findings);
  }

  /** {@return whether a signature proved that key and certificate fit} */
  public boolean isProven() {
    return joined.credential().fit() == Fit.FITS;
  }

  /** {@return how many other entries stayed as they were} */
  public int others() {
    return kept ? result.entries().size() - 1 : 0;
  }
}
