// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Format;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What one file holds.
 *
 * @param path the file, as it was given or found
 * @param format how its content is encoded
 * @param holdings what it holds, in order
 * @param findings what is to be said of this file alone
 * @param failure why the file, or a part of it, could not be read, understood or unlocked
 * @param locked whether a part of it stayed closed
 * @param openers the passwords that opened it or a part of it, that of the whole first
 * @param protections how it is protected, in words
 */
public record FileSurvey(
    Path path,
    Format format,
    List<Holding> holdings,
    List<Finding> findings,
    Optional<SymbolonException> failure,
    boolean locked,
    List<Secret> openers,
    List<ProtectionWorth> protections) {
  /** Copies the lists. */
  public FileSurvey {
    holdings = List.copyOf(holdings);
    findings = List.copyOf(findings);
    openers = List.copyOf(openers);
    protections = List.copyOf(protections);
  }

  /** The same with one more finding. */
  FileSurvey with(Finding finding) {
    List<Finding> more = new ArrayList<>(findings);
    more.add(finding);
    return new FileSurvey(path, format, holdings, more, failure, locked, openers, protections);
  }

  /**
   * {@return the same with other holdings}
   *
   * @param counting those that count
   */
  public FileSurvey withHoldings(List<Holding> counting) {
    return new FileSurvey(path, format, counting, findings, failure, locked, openers, protections);
  }

  /** {@return the password that opened it} */
  public Optional<Secret> opener() {
    return openers.stream().findFirst();
  }

  /** {@return whether something is to be said of it: what it holds, is, or hides} */
  public boolean isTelling() {
    return !isEmpty() || failure.isPresent() || format.isKnown();
  }

  /** {@return whether it holds nothing} */
  public boolean isEmpty() {
    return holdings.isEmpty();
  }
}
