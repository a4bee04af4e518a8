// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.BrokenSignature;
import io.symbolon.chain.Chain;
import io.symbolon.chain.PathJudge;
import io.symbolon.chain.RevocationJudge;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Placeholder;
import io.symbolon.x509.RevocationList;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * What is said of certificates of a survey, wherever they go: by itself, in their path, and by the
 * revocation lists at hand. A survey says it of all; whoever writes some of them says it of these,
 * in the same words.
 */
public final class CertificateVerdict {
  private CertificateVerdict() {}

  /**
   * {@return what is said of some certificates}
   *
   * @param survey the files
   */
  public static List<Finding> of(Survey survey, Collection<Certificate> certificates) {
    List<Finding> findings = new ArrayList<>();
    Set<Certificate> some = new LinkedHashSet<>(certificates);
    some.removeIf(Placeholder::is);
    for (Certificate certificate : some) {
      findings.addAll(survey.judge().judge(certificate, place(survey, certificate)));
    }
    chains(survey)
        .filter(chain -> some.contains(chain.endEntity()))
        .forEach(chain -> findings.addAll(path(survey, chain)));
    for (Certificate certificate : some) {
      findings.addAll(revocation(survey, certificate));
    }
    return findings;
  }

  private static Stream<Chain> chains(Survey survey) {
    return Stream.concat(
            survey.matches().stream().flatMap(match -> match.chain().stream()),
            survey.otherChains().stream())
        .distinct();
  }

  /**
   * {@return what is wrong with a path}
   *
   * @param survey the files
   * @param chain the chain, whose root may be one of Java's own
   */
  static List<Finding> path(Survey survey, Chain chain) {
    List<Certificate> path = new ArrayList<>(chain.certificates());
    chain.systemRoot().ifPresent(path::add);
    List<Finding> findings =
        new ArrayList<>(
            PathJudge.of(chain.endEntity(), place(survey, chain.endEntity())).judge(path));
    brokenSignature(survey, chain).ifPresent(findings::add);
    return findings;
  }

  /**
   * {@return that a chain ends where it does since a signature in it is wrong, and not since an
   * issuer is missing}
   *
   * @param survey the files
   */
  public static Optional<Finding> brokenSignature(Survey survey, Chain chain) {
    Certificate last = chain.last();
    return chain.reachesRoot()
        ? Optional.empty()
        : BrokenSignature.of(
            last, survey.authoritiesNamed(last.issuer()), false, place(survey, last));
  }

  /**
   * {@return what the revocation lists at hand say of a certificate; nothing where none is its
   * issuer's}
   *
   * @param survey the files
   */
  public static List<Finding> revocation(Survey survey, Certificate certificate) {
    List<RevocationList> lists =
        survey.files().stream()
            .flatMap(file -> file.holdings().stream())
            .filter(Holding.Crl.class::isInstance)
            .map(holding -> ((Holding.Crl) holding).list())
            .filter(list -> list.issuer().equals(certificate.issuer()))
            .toList();
    if (lists.isEmpty() || certificate.isSelfSigned()) {
      return List.of();
    }
    return new RevocationJudge(lists, survey.now(), place(survey, certificate))
        .judge(List.of(certificate), survey.authoritiesNamed(certificate.issuer())).stream()
            .filter(
                finding ->
                    finding.is(FindingKind.REVOKED)
                        || finding.is(FindingKind.REVOCATION_LIST_NOT_USABLE))
            .toList();
  }

  private static String place(Survey survey, Certificate certificate) {
    return survey.placeOf(certificate).map(Place::toString).orElse("");
  }
}
