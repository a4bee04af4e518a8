package io.symbolon.survey;

import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import io.symbolon.seal.Secret;
import java.nio.file.Path;
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
 * @param opener the password that opened it
 * @param protections how it is protected, in words
 */
public record FileSurvey(
    Path path,
    Format format,
    List<Holding> holdings,
    List<Finding> findings,
    Optional<SymbolonException> failure,
    boolean locked,
    Optional<Secret> opener,
    List<String> protections) {
  /** Copies the lists. */
  public FileSurvey {
    holdings = List.copyOf(holdings);
    findings = List.copyOf(findings);
    protections = List.copyOf(protections);
  }

  /** Whether it holds anything. */
  public boolean isEmpty() {
    return holdings.isEmpty();
  }
}
