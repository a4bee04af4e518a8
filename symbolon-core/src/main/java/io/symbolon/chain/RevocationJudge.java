// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Extension;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.ListScope;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Holds certificates against revocation lists (RFC 5280, 6.3). A list says something of a
 * certificate, or it is told as not usable, with the reason: a list that is passed over in silence
 * would be the same as none. Where lists were given and none is usable for a certificate, that is a
 * problem.
 *
 * <p>Java's handshake does not look at lists; servers that are given some do.
 */
public final class RevocationJudge {
  /** Critical extensions of a list that are understood here. */
  private static final Set<Oid> UNDERSTOOD =
      Set.of(Oids.ISSUING_POINT, Oids.AUTHORITY_KEY_ID, Oids.CRL_NUMBER);

  private static final Duration WITHOUT_END = Duration.ofDays(366); // for a list that names no end

  private final List<RevocationList> lists;
  private final Instant now;
  private final String where;

  /**
   * A judge.
   *
   * @param lists the lists that were given
   * @param now the moment they are judged at
   * @param where the place to name in the findings
   */
  public RevocationJudge(List<RevocationList> lists, Instant now, String where) {
    this.lists = List.copyOf(lists);
    this.now = now;
    this.where = where;
  }

  /** What came of holding a certificate against one list. */
  private record Said(Optional<Finding> finding, Optional<String> unusable) {
    static Said nothing() {
      return new Said(Optional.empty(), Optional.empty());
    }

    static Said unusable(String why) {
      return new Said(Optional.empty(), Optional.of(why));
    }
  }

  /**
   * {@return what the lists say of a path}
   *
   * @param shown end-entity first
   * @param trusted certificates that may complete it
   */
  public List<Finding> judge(List<Certificate> shown, Collection<Certificate> trusted) {
    if (lists.isEmpty() || shown.isEmpty()) {
      return List.of();
    }
    List<Certificate> all = Stream.concat(shown.stream(), trusted.stream()).distinct().toList();
    List<Finding> findings = new ArrayList<>();
    Chain chain = new ChainFinder(all, now, SystemRoots.none()).from(shown.get(0));
    for (int i = 0; i < chain.certificates().size(); i++) {
      Certificate certificate = chain.certificates().get(i);
      boolean last = i + 1 == chain.certificates().size();
      if (last && (certificate.isSelfSigned() || trusted.contains(certificate))) {
        break; // nobody revokes what is trusted by itself
      }
      Optional<Certificate> issuer =
          last ? Optional.empty() : Optional.of(chain.certificates().get(i + 1));
      List<Finding> ofThis = new ArrayList<>();
      one(certificate, issuer, ofThis);
      ofThis.forEach(finding -> findings.add(finding.about(it -> it.with(List.of(certificate)))));
    }
    return findings;
  }

  private void one(Certificate certificate, Optional<Certificate> issuer, List<Finding> findings) {
    List<String> reasons = new ArrayList<>();
    boolean usable = false;
    for (RevocationList list : lists) {
      if (!list.issuer().equals(certificate.issuer())) {
        continue;
      }
      Said said = issuer.isPresent() ? say(list, certificate, issuer.get()) : withoutIssuer();
      said.finding().ifPresent(findings::add);
      said.unusable().ifPresent(reasons::add);
      usable |= said.unusable().isEmpty();
    }
    for (String reason : reasons) {
      findings.add(
          (usable
              ? Finding.of(
                  FindingKind.REVOCATION_LIST_NOT_USABLE,
                  Level.WARNING,
                  where,
                  sentence(certificate, reason),
                  remedy())
              : Finding.of(
                  FindingKind.REVOCATION_LIST_NOT_USABLE,
                  Level.PROBLEM,
                  where,
                  sentence(certificate, reason),
                  remedy())));
    }
    if (!usable && reasons.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REVOCATION_NOT_CHECKED,
              where,
              "Whether the certificate of "
                  + certificate.subject().shortText()
                  + " is revoked was not checked: among the revocation lists given is none of "
                  + certificate.issuer()
                  + ". Most servers that are given lists then refuse everybody whom it issued for.",
              "Get the list of that authority, and give it with the others."));
    }
  }

  private static String sentence(Certificate certificate, String reason) {
    return "A revocation list of "
        + certificate.issuer().shortText()
        + " says nothing that counts of the certificate of "
        + certificate.subject().shortText()
        + ": "
        + reason;
  }

  private static String remedy() {
    return "Get the current list from the authority.";
  }

  private static Said withoutIssuer() {
    return Said.unusable("the certificate that should have signed it is not here.");
  }

  private Said say(RevocationList list, Certificate certificate, Certificate issuer) {
    Optional<String> unusable = unusable(list, issuer);
    if (unusable.isPresent()) {
      return Said.unusable(unusable.get());
    }
    ListScope scope =
        list.extensions().listScope().orElse(new ListScope(false, false, false, false, false));
    if (scope.onlyAttributes()
        || (scope.onlyAuthorities() && !certificate.isAuthority())
        || (scope.onlyEndEntities() && certificate.isAuthority())) {
      return Said.unusable(
          "it is about "
              + (scope.onlyAttributes()
                  ? "attribute certificates"
                  : scope.onlyAuthorities() ? "authorities" : "end-entities")
              + " alone.");
    }
    Optional<RevocationList.RevokedEntry> revoked;
    try {
      revoked = list.find(certificate.serial(), certificate.issuer());
    } catch (SymbolonException e) {
      return Said.unusable(lower(e.seen()));
    }
    if (revoked.isPresent()) {
      return new Said(Optional.of(revoked(list, certificate, revoked.get())), Optional.empty());
    }
    if (scope.onlySomeReasons()) {
      return Said.unusable("it is about some reasons of revocation alone.");
    }
    if (list.nextUpdate().filter(now::isAfter).isPresent()) {
      return new Said(Optional.of(ended(list)), Optional.empty());
    }
    return Said.nothing();
  }

  /** Why nothing that a list says counts; nothing where it does. */
  private Optional<String> unusable(RevocationList list, Certificate issuer) {
    if (list.signatureAlgorithm().isWeak()) {
      return Optional.of(
          "it is signed with " + list.signatureAlgorithm().name() + ", which can be forged.");
    }
    Validity verdict = list.verify(issuer);
    if (verdict != Validity.VALID) {
      return Optional.of(
          verdict == Validity.INVALID
              ? "the authority that issued the certificate did not sign it; another of the same name"
                  + " may have."
              : "its signature could not be checked.");
    }
    boolean mayList =
        issuer
            .extensions()
            .keyUsage()
            .map(usages -> usages.contains(KeyUsage.CRL_SIGNING))
            .orElse(true);
    if (!mayList) {
      return Optional.of("the key usage of the authority does not allow it to sign lists.");
    }
    for (Extension extension : list.extensions().all()) {
      if (extension.oid().equals(Oids.DELTA_CRL)) {
        return Optional.of("it only tells what has changed since another list.");
      }
      if (extension.critical() && !UNDERSTOOD.contains(extension.oid())) {
        return Optional.of(
            "it has the critical extension "
                + Oids.nameOrDotted(extension.oid())
                + ", which is not known here.");
      }
    }
    if (list.extensions().damaged().contains(Oids.ISSUING_POINT)) {
      return Optional.of("what it is about can't be read.");
    }
    if (list.thisUpdate().isAfter(now)) {
      return Optional.of("it is from the future: " + list.thisUpdate() + ".");
    }
    if (list.nextUpdate().isEmpty() && list.thisUpdate().plus(WITHOUT_END).isBefore(now)) {
      return Optional.of(
          "it is of " + list.thisUpdate() + " and does not say until when it counts.");
    }
    return Optional.empty();
  }

  private Finding revoked(
      RevocationList list, Certificate certificate, RevocationList.RevokedEntry entry) {
    return Finding.of(
        FindingKind.REVOKED,
        where,
        "The certificate of "
            + certificate.subject().shortText()
            + " is on the revocation list of "
            + list.issuer().shortText()
            + ", since "
            + entry.when()
            + ". Java's handshake does not look at lists; a server that is given this one"
            + " refuses.",
        "Ask its authority why; if it was meant, have a new certificate issued for a new key.");
  }

  private Finding ended(RevocationList list) {
    return Finding.of(
        FindingKind.REVOCATION_LIST_EXPIRED,
        where,
        "The revocation list of "
            + list.issuer().shortText()
            + " was to be relied on until "
            + list.nextUpdate().orElseThrow()
            + ": a server that is given it refuses everybody whom "
            + list.issuer().shortText()
            + " issued for.",
        Remedy.of(
            "Get the current list from the authority; if it is your own, write it anew.",
            Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY)));
  }

  private static String lower(String sentence) {
    return Character.toLowerCase(sentence.charAt(0)) + sentence.substring(1);
  }
}
