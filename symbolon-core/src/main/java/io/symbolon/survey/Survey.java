// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.limit.WorkBudget;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.Placeholder;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What a set of files holds, what of it belongs together, and what is to be said about it. */
public final class Survey {
  /** Authorities begin the validity a little before they sign. */
  private static final Duration SKEW = Duration.ofHours(1);

  private final Instant now;
  private final CertificateJudge judge;
  private final List<FileSurvey> files;
  private final List<SymbolonException> failures;
  private final Map<Certificate, List<Holding.Cert>> certificates;
  private final ChainFinder finder;
  private @org.jspecify.annotations.Nullable CertificateIndex index;
  private final List<Match> matches;
  private final List<Chain> otherChains;
  private final List<RequestStatus> requests;
  private final List<Finding> findings;
  private final List<NextStep> nextSteps;

  /** Everything that was found out so far; each step of {@link #of} makes a new one. */
  private Survey(
      Instant now,
      CertificateJudge judge,
      List<FileSurvey> files,
      List<SymbolonException> failures,
      Map<Certificate, List<Holding.Cert>> certificates,
      ChainFinder finder,
      List<Match> matches,
      List<Chain> otherChains,
      List<RequestStatus> requests,
      List<Finding> findings,
      List<NextStep> nextSteps) {
    this.now = now;
    this.judge = judge;
    this.files = List.copyOf(files);
    this.failures = List.copyOf(failures);
    this.certificates = certificates;
    this.finder = finder;
    this.matches = matches;
    this.otherChains = List.copyOf(otherChains);
    this.requests = List.copyOf(requests);
    this.findings = List.copyOf(findings);
    this.nextSteps = List.copyOf(nextSteps);
  }

  /** Pairs and chains first, then the requests, then what is to be said, then what to do. */
  static Survey of(
      List<FileSurvey> files,
      List<SymbolonException> folderFailures,
      List<Finding> folderFindings,
      List<HostName> hosts,
      CertificateJudge judge,
      SystemRoots systemRoots,
      WorkBudget budget) {
    Instant now = judge.now();
    List<Holding> holdings = files.stream().flatMap(f -> f.holdings().stream()).toList();
    Map<Certificate, List<Holding.Cert>> certificates = occurrences(holdings);
    ChainFinder finder = new ChainFinder(certificates.keySet(), now, systemRoots, budget);
    Matcher matcher = new Matcher(holdings, finder, now, budget);
    List<Match> matches = matcher.matches();
    List<SymbolonException> failures = new ArrayList<>(folderFailures);
    files.forEach(file -> file.failure().ifPresent(failures::add));
    Survey paired =
        new Survey(
            now,
            judge,
            files,
            failures,
            certificates,
            finder,
            matches,
            otherChains(certificates, matches, finder),
            List.of(),
            List.of(),
            List.of());
    Survey asked = paired.with(paired.findRequests(), List.of(), List.of());
    List<Finding> findings = new ArrayList<>(folderFindings);
    for (SymbolonException failure : folderFailures) {
      findings.add(
          Finding.of(
              FindingKind.UNREADABLE, Level.PROBLEM, "", failure.inFull(), failure.remedy()));
    }
    findings.addAll(new SurveyFindings(asked, hosts, matcher.gaveUp()).all());
    if (budget.refusedSignatures() > 0) {
      findings.add(
          Finding.of(
              FindingKind.CHECKS_STOPPED,
              "",
              budget.refusedSignatures()
                  + " signatures were not checked: these files ask for more work than files of their"
                  + " size do. What rests on them is not proven.",
              "Name fewer files at once. If they come from a stranger, look for the ones with many"
                  + " certificates of one name, or with keys of unusual sizes."));
    }
    // The worst first; what is only worth a glance last.
    findings.sort(
        Comparator.comparing(Finding::level).thenComparing(f -> f.is(FindingKind.TEXT_LAYOUT)));
    Survey judged = asked.with(asked.requests, findings, List.of());
    return judged.with(judged.requests, judged.findings, NextSteps.of(judged));
  }

  private Survey with(
      List<RequestStatus> newRequests, List<Finding> newFindings, List<NextStep> newSteps) {
    return new Survey(
        now,
        judge,
        files,
        failures,
        certificates,
        finder,
        matches,
        otherChains,
        newRequests,
        newFindings,
        newSteps);
  }

  /**
   * {@return certificates that look like the reply for a key that waits, and are for another key:
   * of the same subject or host, and issued after the request was made}
   *
   * @param waiting the key that waits
   */
  public List<Certificate> repliesForOtherKeys(Match waiting) {
    Optional<Certificate> placeholder =
        waiting.certificates().stream().filter(Placeholder::is).findFirst();
    if (placeholder.isEmpty()) {
      return List.of();
    }
    List<GeneralName> asked = placeholder.get().alternativeNames();
    return certificates().keySet().stream()
        .filter(one -> !one.isAuthority() && !Placeholder.is(one))
        .filter(one -> matches().stream().noneMatch(match -> match.certificates().contains(one)))
        .filter(one -> !one.notBefore().isBefore(placeholder.get().notBefore().minus(SKEW)))
        .filter(
            one ->
                one.subject().equals(placeholder.get().subject())
                    || one.alternativeNames().stream().anyMatch(asked::contains))
        .toList();
  }

  /** {@return who judged each certificate} */
  public CertificateJudge judge() {
    return judge;
  }

  private static Map<Certificate, List<Holding.Cert>> occurrences(List<Holding> holdings) {
    Map<Certificate, List<Holding.Cert>> occurrences = new LinkedHashMap<>();
    for (Holding holding : holdings) {
      if (holding instanceof Holding.Cert cert) {
        occurrences.computeIfAbsent(cert.certificate(), c -> new ArrayList<>()).add(cert);
      }
    }
    return occurrences;
  }

  /** The chains of certificates that no private key here belongs to and that no other rests on. */
  private static List<Chain> otherChains(
      Map<Certificate, List<Holding.Cert>> certificates, List<Match> matches, ChainFinder finder) {
    Set<Certificate> covered = new HashSet<>();
    for (Match match : matches) {
      covered.addAll(match.certificates());
      match.chain().ifPresent(chain -> covered.addAll(chain.certificates()));
    }
    List<Chain> chains = new ArrayList<>();
    List<Certificate> order = new ArrayList<>(certificates.keySet());
    // End-entities first: what lies on their chains needs no chain of its own.
    order.sort(
        Comparator.comparing(Certificate::isAuthority).thenComparing(Certificate::isSelfSigned));
    for (Certificate certificate : order) {
      if (!covered.contains(certificate)) {
        Chain chain = finder.from(certificate);
        covered.addAll(chain.certificates());
        chains.add(chain);
      }
    }
    return List.copyOf(chains);
  }

  private List<RequestStatus> findRequests() {
    Map<String, Match> keys = new HashMap<>();
    for (Match match : matches) {
      match.requests().forEach(one -> keys.put(one.request().publicKey().keyId(), match));
    }
    List<RequestStatus> all = new ArrayList<>();
    for (Holding.Request holding : all(Holding.Request.class)) {
      Optional<Match> key = Optional.ofNullable(keys.get(holding.request().publicKey().keyId()));
      all.add(RequestStatus.of(this, index(), holding, key));
    }
    return List.copyOf(all);
  }

  /** Built when a request is here, or a reply is compared: most surveys need none. */
  synchronized CertificateIndex index() {
    CertificateIndex known = index;
    if (known == null) {
      known = new CertificateIndex(certificates.keySet());
      index = known;
    }
    return known;
  }

  /** {@return what has become of each request} */
  public List<RequestStatus> requests() {
    return requests;
  }

  /** {@return the moment for which validity was judged} */
  public Instant now() {
    return now;
  }

  /** {@return the files, in the order they were named or found} */
  public List<FileSurvey> files() {
    return files;
  }

  /** {@return why files, folders or parts of them could not be read, understood or unlocked} */
  public List<SymbolonException> failures() {
    return failures;
  }

  /** {@return the different certificates, each with all its places} */
  public Map<Certificate, List<Holding.Cert>> certificates() {
    return java.util.Collections.unmodifiableMap(certificates);
  }

  /** {@return every open private key with what belongs to it} */
  public List<Match> matches() {
    return matches;
  }

  /** {@return the chains of the certificates that no private key here belongs to} */
  public List<Chain> otherChains() {
    return otherChains;
  }

  /** {@return the best chain of a certificate among these files} */
  public Chain chainOf(Certificate certificate) {
    return finder.from(certificate);
  }

  /** {@return the authorities among the files with this name, whichever key they have} */
  public List<Certificate> authoritiesNamed(DistinguishedName name) {
    return finder.authoritiesNamed(name);
  }

  /** {@return all that is to be said, the worst first} */
  public List<Finding> findings() {
    return findings;
  }

  /** {@return what to do next} */
  public List<NextStep> nextSteps() {
    return nextSteps;
  }

  /** {@return the first place of a certificate} */
  public Optional<Place> firstPlace(Certificate certificate) {
    return placeOf(certificate);
  }

  Optional<Place> placeOf(Certificate certificate) {
    return Optional.ofNullable(certificates.get(certificate)).map(all -> all.get(0).place());
  }

  /** All holdings of one kind. */
  <T extends Holding> Collection<T> all(Class<T> kind) {
    List<T> all = new ArrayList<>();
    for (FileSurvey file : files) {
      for (Holding holding : file.holdings()) {
        if (kind.isInstance(holding)) {
          all.add(kind.cast(holding));
        }
      }
    }
    return all;
  }
}
