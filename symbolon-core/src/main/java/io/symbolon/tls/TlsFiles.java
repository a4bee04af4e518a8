// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.chain.Credential;
import io.symbolon.explain.ChainExplainer;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Side;
import io.symbolon.party.PartyFiles;
import io.symbolon.party.Trust;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The files that a setup is made from: keystores, keys, certificates and truststores, in any format
 * and order. They are read anew at every {@link #load()}. Immutable.
 */
public final class TlsFiles {
  private final Side side;
  private final List<Path> credential;
  private final List<Path> trust;
  private final List<Secret> unlock;
  private final UnaryOperator<TlsSetup> terms;

  private TlsFiles(
      Side side,
      Collection<Path> credential,
      Collection<Path> trust,
      Collection<Secret> unlock,
      UnaryOperator<TlsSetup> terms) {
    this.side = side;
    this.credential = List.copyOf(credential);
    this.trust = List.copyOf(trust);
    this.unlock = List.copyOf(unlock);
    this.terms = terms;
  }

  /** {@return a server that shows what these files hold: one credential or several} */
  public static TlsFiles server(Path... credential) {
    return new TlsFiles(
        Side.SERVER, List.of(credential), List.of(), List.of(), UnaryOperator.identity());
  }

  /**
   * {@return a client that trusts what these files hold}
   *
   * @param trust whom to trust
   */
  public static TlsFiles client(Path... trust) {
    return new TlsFiles(
        Side.CLIENT, List.of(), List.of(trust), List.of(), UnaryOperator.identity());
  }

  /**
   * With what a client shows where it is asked.
   *
   * @return a changed copy
   */
  public TlsFiles withCredential(Path... files) {
    return new TlsFiles(side, List.of(files), trust, unlock, terms);
  }

  /**
   * With whom this side trusts. A server then requires its clients' certificates, unless its terms
   * say otherwise.
   *
   * @return a changed copy
   */
  public TlsFiles withTrust(Path... files) {
    return new TlsFiles(side, credential, List.of(files), unlock, terms);
  }

  /**
   * With passwords to try. They must not be closed as long as these files are loaded again.
   *
   * @param passwords the passwords to try
   * @return a changed copy
   */
  public TlsFiles withUnlock(Secret... passwords) {
    return new TlsFiles(side, credential, trust, List.of(passwords), terms);
  }

  /**
   * With terms that every setup from these files gets, such as a rule for peers.
   *
   * @param newTerms the changed settings
   * @return a changed copy
   */
  public TlsFiles withTerms(UnaryOperator<TlsSetup> newTerms) {
    return new TlsFiles(side, credential, trust, unlock, newTerms);
  }

  /** {@return all files} */
  public List<Path> all() {
    return Stream.concat(credential.stream(), trust.stream()).toList();
  }

  /**
   * {@return the setup that the files make now}
   *
   * @throws SymbolonException if one can't be read, is damaged, stays locked, or lacks what is
   *     needed; nothing is used of files of which a part is broken
   */
  public TlsSetup load() {
    TlsSetup setup;
    List<Credential> shown = credential.isEmpty() ? List.of() : credentials();
    if (side == Side.CLIENT) {
      setup = TlsSetup.client(Trust.in(trusted()));
      if (!shown.isEmpty()) {
        setup = setup.withCredentials(shown.toArray(Credential[]::new));
      }
    } else {
      setup = TlsSetup.server(shown);
      if (!trust.isEmpty()) {
        setup = setup.requiringClients(Trust.in(trusted()));
      }
    }
    return terms.apply(setup);
  }

  private List<Credential> credentials() {
    Survey survey = survey(credential);
    List<Credential> found =
        PartyFiles.credentials(survey).stream()
            .flatMap(party -> party.credential().stream())
            .toList();
    if (found.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no credential for " + side.title() + ".",
          named(credential) + " hold no private key with a certificate that fits it.",
          Remedy.of("See what they hold.", Action.of(Task.SURVEY, credential)));
    }
    return found;
  }

  private List<Certificate> trusted() {
    Survey survey = survey(trust);
    List<Finding> findings = new ArrayList<>();
    List<Certificate> trusted = PartyFiles.trust(survey, findings);
    if (trusted.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          ChainExplainer.sentence(side.title()) + " would trust nobody.",
          findings.isEmpty()
              ? "There is no certificate in " + named(trust) + "."
              : findings.get(0).where() + ": " + findings.get(0).statement(),
          findings.isEmpty()
              ? Remedy.of("Make the truststore.", Action.of(Task.TRUSTSTORE))
              : findings.get(0).remedy());
    }
    return trusted;
  }

  private Survey survey(List<Path> files) {
    Survey survey = Surveyor.create().withUnlock(unlock).survey(files);
    if (!survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
    for (FileSurvey file : survey.files()) {
      for (Finding finding : file.findings()) {
        if (finding.is(FindingKind.DAMAGED)) {
          throw new SymbolonException(
              Reason.NOT_UNDERSTOOD,
              "A part of " + finding.where() + " is broken.",
              finding.statement(),
              "Write it anew; where it is being written just now, try again.");
        }
      }
    }
    return survey;
  }

  private static String named(List<Path> files) {
    return files.stream()
        .map(file -> VisibleText.of(file.toString()))
        .collect(Collectors.joining(", "));
  }

  /** What the file system says of the files: equal as long as nobody touched them. */
  String look() {
    StringBuilder seen = new StringBuilder();
    for (Path file : all()) {
      try {
        BasicFileAttributes attributes = Files.readAttributes(file, BasicFileAttributes.class);
        seen.append(attributes.size())
            .append(' ')
            .append(attributes.lastModifiedTime().to(java.util.concurrent.TimeUnit.NANOSECONDS))
            .append(' ')
            .append(attributes.fileKey());
      } catch (IOException e) {
        seen.append("not there");
      }
      seen.append('\n');
    }
    return seen.toString();
  }
}
