// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Extensions;
import io.symbolon.x509.PolicyConstraints;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The certificate policies of a path (RFC 5280, 6.1.2 to 6.1.5), for whoever takes any policy. The
 * standard keeps a tree, since it hands out which policies are valid and with which qualifiers;
 * here it only matters whether one is, for which the set of policies of the deepest level is
 * enough. It goes from the certificate below the trust anchor down to the end-entity, and is
 * bounded by the policies that the certificates name.
 */
final class PolicyCheck {
  private final int length;
  private Optional<Set<Oid>> valid = Optional.of(Set.of(Oids.ANY_POLICY)); // nothing: no policy
  private int explicit;
  private int mapping;
  private int anyPolicy;

  private PolicyCheck(int length) {
    this.length = length;
    explicit = length + 1;
    mapping = length + 1;
    anyPolicy = length + 1;
  }

  /**
   * Which certificate of a path leaves no policy, though one is required.
   *
   * @param path end-entity first, the trust anchor last
   */
  static Optional<Certificate> firstRefused(List<Certificate> path) {
    PolicyCheck check = new PolicyCheck(path.size() - 1);
    for (int i = path.size() - 2; i >= 0; i--) {
      Certificate certificate = path.get(i);
      boolean last = i == 0;
      check.take(certificate, last);
      if (check.explicit == 0 && check.valid.isEmpty()) {
        return Optional.of(certificate);
      }
      if (!last) {
        check.prepare(certificate);
      } else if (check.wrapUp(certificate)) {
        return Optional.of(certificate);
      }
    }
    return Optional.empty();
  }

  private void take(Certificate certificate, boolean last) {
    Optional<Set<Oid>> named = certificate.extensions().policies();
    if (named.isEmpty() || valid.isEmpty()) {
      valid = Optional.empty();
      return;
    }
    boolean any =
        named.get().contains(Oids.ANY_POLICY)
            && (anyPolicy > 0 || (!last && certificate.isSelfIssued()));
    Set<Oid> next = new HashSet<>();
    boolean anyBefore = valid.get().contains(Oids.ANY_POLICY);
    for (Oid policy : named.get()) {
      if (!policy.equals(Oids.ANY_POLICY) && (anyBefore || valid.get().contains(policy))) {
        next.add(policy);
      }
    }
    if (any) {
      next.addAll(valid.get());
    }
    valid = next.isEmpty() ? Optional.empty() : Optional.of(next);
  }

  private void prepare(Certificate certificate) {
    Extensions extensions = certificate.extensions();
    Map<Oid, Set<Oid>> mappings = extensions.policyMappings();
    if (!mappings.isEmpty() && valid.isPresent()) {
      Set<Oid> next = new HashSet<>(valid.get());
      boolean any = next.contains(Oids.ANY_POLICY);
      for (Map.Entry<Oid, Set<Oid>> one : mappings.entrySet()) {
        boolean had = next.remove(one.getKey());
        if (mapping > 0 && (had || any)) {
          next.addAll(one.getValue());
        }
      }
      valid = next.isEmpty() ? Optional.empty() : Optional.of(next);
    }
    if (!certificate.isSelfIssued()) {
      explicit = Math.max(0, explicit - 1);
      mapping = Math.max(0, mapping - 1);
      anyPolicy = Math.max(0, anyPolicy - 1);
    }
    Optional<PolicyConstraints> constraints = extensions.policyConstraints();
    if (constraints.isPresent()) {
      explicit = Math.min(explicit, constraints.get().requireExplicit().orElse(length + 1));
      mapping = Math.min(mapping, constraints.get().inhibitMapping().orElse(length + 1));
    }
    anyPolicy = Math.min(anyPolicy, extensions.inhibitAnyPolicy().orElse(length + 1));
  }

  private boolean wrapUp(Certificate certificate) {
    explicit = Math.max(0, explicit - 1);
    boolean required =
        certificate
            .extensions()
            .policyConstraints()
            .filter(one -> one.requireExplicit().orElse(1) == 0)
            .isPresent();
    return (required || explicit == 0) && valid.isEmpty();
  }
}
