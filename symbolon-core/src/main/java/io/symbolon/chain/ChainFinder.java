// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.SignatureAlgorithm.Validity;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds the chain above a certificate among any pile of others, whatever their order.
 *
 * <p>From the certificate upwards, those whose subject is the wanted issuer are tried, and only a
 * signature that verifies makes a link. Where several fit (a cross-signed or renewed authority),
 * the search prefers those whose signature could be checked, then those that are valid now, then
 * those with a matching key identifier, then the latest; it backtracks, and takes the first path
 * that ends in a root. Where none does, the longest path is the answer. Names and signatures are
 * looked up in tables, so many certificates below one authority cost one check each. The number of
 * links that are tried for one chain is bounded by {@link Limits#CHAIN_TRIES}, whether their
 * signatures were checked before or not, since authorities that sign each other make more paths
 * than anyone could walk; its length is bounded by {@link Limits#CHAIN_LENGTH}. Not thread-safe.
 */
public final class ChainFinder {
  private final Map<DistinguishedName, List<Certificate>> bySubject = new HashMap<>();
  private final Map<Link, Validity> verdicts = new HashMap<>();
  private final Instant now;
  private final SystemRoots systemRoots;
  private final WorkBudget budget;
  private int tries;

  private record Link(Certificate certificate, Certificate issuer) {}

  /**
   * A finder among these certificates.
   *
   * @param pool the certificates at hand; repetitions do no harm
   * @param now the moment for which valid ones are preferred
   * @param systemRoots where to look for a root that is not among them
   */
  public ChainFinder(Collection<Certificate> pool, Instant now, SystemRoots systemRoots) {
    this(pool, now, systemRoots, WorkBudget.full());
  }

  /**
   * The same within a budget of signatures that is shared with others; a signature that it does not
   * allow counts as not checked.
   *
   * @param pool certificates that may be its issuers
   * @param now the moment that counts as now
   * @param systemRoots the roots that the platform trusts
   * @param budget how much work may be done
   */
  public ChainFinder(
      Collection<Certificate> pool, Instant now, SystemRoots systemRoots, WorkBudget budget) {
    this.budget = budget;
    this.now = now;
    this.systemRoots = systemRoots;
    for (Certificate certificate : new LinkedHashSet<>(pool)) {
      bySubject.computeIfAbsent(certificate.subject(), s -> new ArrayList<>()).add(certificate);
    }
  }

  /** {@return the authorities at hand with this name, whichever key they have} */
  public List<Certificate> authoritiesNamed(DistinguishedName name) {
    return bySubject.getOrDefault(name, List.of()).stream()
        .filter(Certificate::isAuthority)
        .toList();
  }

  /**
   * {@return the best chain from {@code endEntity} upwards; at the least, it alone}
   *
   * @param endEntity the end-entity certificate
   */
  public Chain from(Certificate endEntity) {
    tries = 0;
    List<Certificate> path = new ArrayList<>(List.of(endEntity));
    List<Certificate> best = new ArrayList<>();
    boolean root = extend(path, new LinkedHashSet<>(path), best);
    List<Certificate> found = root ? path : best;
    Certificate last = found.get(found.size() - 1);
    Optional<Certificate> systemRoot =
        root ? Optional.empty() : systemRoots.issuerOf(last).filter(r -> !r.equals(last));
    return new Chain(found, root, systemRoot, unchecked(found, root));
  }

  private int unchecked(List<Certificate> found, boolean root) {
    int unchecked = 0;
    for (int i = 0; i + 1 < found.size(); i++) {
      if (verdict(found.get(i), found.get(i + 1)) == Validity.NOT_CHECKED) {
        unchecked++;
      }
    }
    Certificate last = found.get(found.size() - 1);
    return root && verdict(last, last) == Validity.NOT_CHECKED ? unchecked + 1 : unchecked;
  }

  /** Extends the path to a root; where it can't, leaves it as it was and the longest in best. */
  private boolean extend(List<Certificate> path, Set<Certificate> used, List<Certificate> best) {
    Certificate last = path.get(path.size() - 1);
    if (isRoot(last)) {
      return true;
    }
    if (path.size() > best.size()) {
      best.clear();
      best.addAll(path);
    }
    if (path.size() >= Limits.CHAIN_LENGTH) {
      return false;
    }
    List<Certificate> unchecked = new ArrayList<>();
    for (Certificate issuer : candidates(last)) {
      if (++tries > Limits.CHAIN_TRIES) {
        return false;
      }
      Validity verdict = used.contains(issuer) ? Validity.INVALID : verdict(last, issuer);
      if (verdict == Validity.NOT_CHECKED) {
        unchecked.add(issuer); // only where no signature verifies
      } else if (verdict == Validity.VALID && extendBy(issuer, path, used, best)) {
        return true;
      }
    }
    for (Certificate issuer : unchecked) {
      if (extendBy(issuer, path, used, best)) {
        return true;
      }
    }
    return false;
  }

  private boolean extendBy(
      Certificate issuer, List<Certificate> path, Set<Certificate> used, List<Certificate> best) {
    path.add(issuer);
    used.add(issuer);
    if (extend(path, used, best)) {
      return true;
    }
    path.remove(path.size() - 1);
    used.remove(issuer);
    return false;
  }

  /** {@return whether a certificate signed itself} */
  public boolean isRoot(Certificate certificate) {
    return certificate.isSelfIssued() && verdict(certificate, certificate) != Validity.INVALID;
  }

  private List<Certificate> candidates(Certificate certificate) {
    List<Certificate> named = bySubject.getOrDefault(certificate.issuer(), List.of());
    if (named.size() < 2) {
      return named;
    }
    return named.stream()
        .sorted(
            Comparator.comparing((Certificate issuer) -> !isValidNow(issuer))
                .thenComparing(issuer -> !keyIdentifiersMatch(certificate, issuer))
                .thenComparing(Certificate::notAfter, Comparator.reverseOrder()))
        .toList();
  }

  private boolean isValidNow(Certificate certificate) {
    return !now.isBefore(certificate.notBefore()) && !now.isAfter(certificate.notAfter());
  }

  static boolean keyIdentifiersMatch(Certificate certificate, Certificate issuer) {
    Optional<byte[]> wanted = certificate.extensions().authorityKeyIdentifier();
    Optional<byte[]> offered = issuer.extensions().subjectKeyIdentifier();
    return wanted.isPresent() && offered.isPresent() && Arrays.equals(wanted.get(), offered.get());
  }

  private Validity verdict(Certificate certificate, Certificate issuer) {
    return verdicts.computeIfAbsent(
        new Link(certificate, issuer),
        link ->
            budget.allowsSignature(link.issuer().publicKey().verifyingCost())
                ? link.certificate().verify(link.issuer())
                : Validity.NOT_CHECKED);
  }
}
