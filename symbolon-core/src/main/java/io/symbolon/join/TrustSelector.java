// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.CertificateVerdict;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Picks the certificates of a truststore out of a survey. A private key is never taken. */
public final class TrustSelector {
  /** Which certificates are taken. */
  public enum Choice {
    /** The authorities'; where there are none, all. */
    AUTHORITIES,
    /** Every one. */
    ALL
  }

  private final List<StoreEntry.Trusted> entries = new ArrayList<>();
  private final List<Finding> findings = new ArrayList<>();
  private final Set<Certificate> present = new HashSet<>();
  private final Set<String> aliases = new HashSet<>();
  private final List<StoreEntry.Trusted> added = new ArrayList<>();

  private TrustSelector() {}

  /**
   * {@return a new truststore}
   *
   * @param survey the surveyed files
   * @param choice which certificates are meant
   * @throws SymbolonException if the files hold no certificate
   */
  public static TruststoreContent select(Survey survey, Choice choice) {
    return new TrustSelector().take(survey, choice);
  }

  /**
   * {@return an existing truststore and what is added to it} Its entries keep their aliases.
   *
   * @param existing the survey of the truststore alone
   * @param survey the surveyed files
   * @param choice which certificates are meant
   * @throws SymbolonException if the existing store can't be opened or proven unchanged, or holds a
   *     private key; or if the files hold no certificate
   */
  public static TruststoreContent add(FileSurvey existing, Survey survey, Choice choice) {
    TrustSelector selector = new TrustSelector();
    selector.keep(existing);
    return selector.take(survey, choice);
  }

  private void keep(FileSurvey existing) {
    if (existing.failure().isPresent()) {
      throw existing.failure().get();
    }
    String name = VisibleText.of(existing.path().toString());
    if (existing.findings().stream().anyMatch(f -> f.is(FindingKind.INTEGRITY_NOT_CHECKED))) {
      throw new SymbolonException(
          Reason.LOCKED,
          "Nothing can be added to " + name + ".",
          "Whether it was changed can't be checked without its password, which none of those given"
              + " is.",
          Remedy.of("Give its password.", Action.again(Input.PASSWORD)));
    }
    for (Holding holding : existing.holdings()) {
      if (holding instanceof Holding.Cert cert) {
        if (present.add(cert.certificate())) {
          String alias =
              cert.alias()
                  .filter(a -> aliases.add(a.toLowerCase(Locale.ENGLISH)))
                  .orElseGet(() -> Aliases.unique(cert.certificate(), aliases));
          entries.add(new StoreEntry.Trusted(alias, cert.certificate(), cert.labels().created()));
        }
      } else {
        throw refused(
            name,
            "It holds "
                + (holding instanceof Holding.PrivateKey
                    ? "a private key"
                    : "more than certificates")
                + " at "
                + holding.place()
                + ": it is not a truststore.",
            Remedy.of(
                "Make a truststore of its certificates first.",
                Action.of(Task.TRUSTSTORE, existing.path())
                    .with(Input.THEMSELVES)
                    .with(Input.INTO)));
      }
    }
  }

  private static SymbolonException refused(String name, String seen, Remedy remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "Nothing can be added to " + name + ".", seen, remedy);
  }

  private TruststoreContent take(Survey survey, Choice choice) {
    Map<Certificate, List<Holding.Cert>> all = survey.certificates();
    if (all.isEmpty()) {
      if (!survey.failures().isEmpty()) {
        throw survey.failures().get(0);
      }
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is nothing to trust.",
          "The files hold no certificate.",
          "Add the file with the authority's certificate.");
    }
    keysLeftOut(survey);
    List<Certificate> authorities = all.keySet().stream().filter(Certificate::isAuthority).toList();
    boolean authoritiesOnly = choice == Choice.AUTHORITIES && !authorities.isEmpty();
    if (authoritiesOnly) {
      leftOut(all.keySet());
    } else if (choice == Choice.AUTHORITIES) {
      findings.add(
          Finding.of(
              FindingKind.NO_AUTHORITY,
              "",
              "No authority's certificate is among the files; the certificates themselves are trusted.",
              "Whoever renews one of them has to renew this truststore as well."));
    }
    CertificateJudge judge = survey.judge();
    for (Map.Entry<Certificate, List<Holding.Cert>> entry : all.entrySet()) {
      Certificate certificate = entry.getKey();
      if (authoritiesOnly && !certificate.isAuthority()) {
        continue;
      }
      Holding.Cert first = entry.getValue().get(0);
      if (!present.add(certificate)) {
        findings.add(
            Finding.of(
                FindingKind.ALREADY_THERE,
                first.place().toString(),
                "The certificate of " + certificate.subject().shortText() + " is there already.",
                ""));
        continue;
      }
      String alias = keptAlias(first).orElseGet(() -> Aliases.unique(certificate, aliases));
      StoreEntry.Trusted taken = new StoreEntry.Trusted(alias, certificate);
      entries.add(taken);
      added.add(taken);
      findings.addAll(
          judge.judge(certificate, first.place().toString()).stream()
              .filter(f -> !f.is(FindingKind.NO_ALTERNATIVE_NAMES))
              .toList());
      findings.addAll(CertificateVerdict.revocation(survey, certificate));
    }
    survey.failures().forEach(failure -> findings.add(Finding.of(failure, Level.WARNING)));
    return new TruststoreContent(entries, added, findings);
  }

  /** An alias that a person gave in another truststore is worth keeping; a key's alias is not. */
  private Optional<String> keptAlias(Holding.Cert cert) {
    return cert.alias()
        .filter(a -> cert.certificate().isAuthority() && !a.isBlank() && a.length() <= 100)
        .filter(a -> aliases.add(a.toLowerCase(Locale.ENGLISH)));
  }

  private void keysLeftOut(Survey survey) {
    for (FileSurvey file : survey.files()) {
      long keys = file.holdings().stream().filter(h -> h instanceof Holding.PrivateKey).count();
      if (keys > 0) {
        findings.add(
            Finding.of(
                FindingKind.KEY_LEFT_OUT,
                VisibleText.of(file.path().toString()),
                (keys == 1 ? "The private key" : "The " + keys + " private keys")
                    + " in this file was left out: a truststore holds no keys.",
                "Keep this file away from whoever gets the truststore."));
      }
    }
  }

  private void leftOut(Set<Certificate> all) {
    List<String> names =
        all.stream()
            .filter(c -> !c.isAuthority())
            .map(c -> c.subject().shortText())
            .distinct()
            .toList();
    if (!names.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.END_ENTITY_LEFT_OUT,
              "",
              "Only authorities are trusted; left out: "
                  + (names.size() <= 5
                      ? String.join(", ", names)
                      : String.join(", ", names.subList(0, 5))
                          + " and "
                          + (names.size() - 5)
                          + " more")
                  + ".",
              Remedy.of(
                  "If it is meant so, trust these certificates themselves.",
                  Action.again(Input.THEMSELVES))));
    }
  }
}
