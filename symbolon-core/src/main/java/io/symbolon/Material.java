// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joiner;
import io.symbolon.join.TrustSelector;
import io.symbolon.party.Trust;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Keys and certificates that were read: what belongs together, and what is wrong with it.
 * Immutable.
 *
 * <p>It holds the private keys that could be opened, in memory of the process, for as long as it is
 * reachable.
 */
public final class Material {
  private final Survey survey;

  Material(Survey survey) {
    this.survey = survey;
  }

  /**
   * Reads files, and everything in folders, without a password.
   *
   * @param paths files and folders
   * @return the material
   */
  public static Material read(Path... paths) {
    return reader().read(paths);
  }

  /** {@return a reader with settings: passwords, a clock, thresholds} */
  public static MaterialReader reader() {
    return MaterialReader.standard();
  }

  /** {@return all that is known of it} */
  public Survey survey() {
    return survey;
  }

  /** {@return what is to be said of it, the worst first} */
  public List<Finding> findings() {
    return survey.findings();
  }

  /**
   * {@return the one credential: the private key that has a certificate, with its chain without the
   * root} That they fit is proven by a signature.
   *
   * @throws SymbolonException if there is no key, more than one, no certificate that belongs to it,
   *     or no complete chain; it names the choices or what is missing
   */
  public Credential credential() {
    return Joiner.join(survey, JoinOptions.standard()).credential();
  }

  /**
   * {@return the credential of this name}
   *
   * @param alias its alias in a keystore, the common name of its certificate, or its file
   * @throws SymbolonException as {@link #credential()}, and if none or several go by this name
   */
  public Credential credential(String alias) {
    return Joiner.join(survey, JoinOptions.standard().withAlias(alias)).credential();
  }

  /**
   * {@return every private key that has a certificate, each with its chain as far as it goes,
   * without the root} A key without a certificate is left out; {@link #findings()} tells of it.
   *
   * @throws SymbolonException if a key and its certificate do not fit
   */
  public List<Credential> credentials() {
    List<Credential> all = new ArrayList<>();
    for (Match match : survey.matches()) {
      if (!match.certificates().isEmpty() && !match.isWaiting()) {
        all.add(
            Credential.of(
                match.key().key().orElseThrow(), match.chain().orElseThrow().withoutRoot()));
      }
    }
    return List.copyOf(all);
  }

  /**
   * {@return the authorities that are here, as a trust: every certificate that may sign others;
   * where there is none, every certificate}
   *
   * @throws SymbolonException if there is no certificate
   */
  public Trust trust() {
    return Trust.in(
        TrustSelector.select(survey, TrustSelector.Choice.AUTHORITIES).entries().stream()
            .map(entry -> entry.certificate())
            .toList());
  }
}
