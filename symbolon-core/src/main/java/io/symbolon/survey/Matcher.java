// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.ChainFinder;
import io.symbolon.key.Fit;
import io.symbolon.key.KeyAlgorithm;
import io.symbolon.key.PlatformCurves;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds the halves that belong together: by the public key where the private key carries it or it
 * can be computed, and otherwise by having the key sign and each public key of its algorithm
 * verify. Linear in the holdings but for keys of the second kind, whose trials are bounded.
 */
final class Matcher {

  private final List<Holding> holdings;
  private final WorkBudget budget;
  private final ChainFinder chains;
  private final Instant now;
  private final Map<Path, Map<String, List<Holding.Cert>>> byShared = new HashMap<>();
  private int trials;
  private boolean gaveUp;

  Matcher(List<Holding> holdings, ChainFinder chains, Instant now, WorkBudget budget) {
    this.budget = budget;
    this.holdings = holdings;
    this.chains = chains;
    this.now = now;
  }

  /** Whether a key without a public half was left unpaired because there were too many trials. */
  boolean gaveUp() {
    return gaveUp;
  }

  List<Match> matches() {
    Map<String, Set<Certificate>> certificates = new HashMap<>();
    Map<String, List<Holding.Request>> requests = new HashMap<>();
    Map<String, List<Holding.PublicKey>> alone = new HashMap<>();
    Map<KeyAlgorithm, Map<String, SubjectPublicKeyInfo>> publicKeys = new HashMap<>();
    for (Holding holding : holdings) {
      if (holding instanceof Holding.Cert cert) {
        Certificate certificate = cert.certificate();
        certificates
            .computeIfAbsent(certificate.keyId(), k -> new LinkedHashSet<>())
            .add(certificate);
        remember(publicKeys, certificate.publicKey());
      } else if (holding instanceof Holding.Request request) {
        SubjectPublicKeyInfo key = request.request().publicKey();
        requests.computeIfAbsent(key.keyId(), k -> new ArrayList<>()).add(request);
        remember(publicKeys, key);
      } else if (holding instanceof Holding.PublicKey key) {
        alone.computeIfAbsent(key.key().keyId(), k -> new ArrayList<>()).add(key);
        remember(publicKeys, key.key());
      } else if (holding instanceof Holding.PrivateKey key) {
        key.key().flatMap(PrivateKeyInfo::publicHalf).ifPresent(h -> remember(publicKeys, h));
      }
    }
    List<Match> matches = new ArrayList<>();
    for (Map.Entry<String, List<Holding.PrivateKey>> group : groups(publicKeys).entrySet()) {
      matches.add(
          match(
              group.getValue(),
              certificates.getOrDefault(group.getKey(), Set.of()),
              requests.getOrDefault(group.getKey(), List.of()),
              alone.getOrDefault(group.getKey(), List.of())));
    }
    return matches;
  }

  private static void remember(
      Map<KeyAlgorithm, Map<String, SubjectPublicKeyInfo>> publicKeys, SubjectPublicKeyInfo key) {
    publicKeys.computeIfAbsent(key.algorithm(), k -> new LinkedHashMap<>()).put(key.keyId(), key);
  }

  /** The open private keys by what identifies their public half. */
  private Map<String, List<Holding.PrivateKey>> groups(
      Map<KeyAlgorithm, Map<String, SubjectPublicKeyInfo>> publicKeys) {
    Map<String, List<Holding.PrivateKey>> same = new LinkedHashMap<>();
    for (Holding holding : holdings) {
      if (holding instanceof Holding.PrivateKey key && key.key().isPresent()) {
        PrivateKeyInfo info = key.key().get();
        String id =
            info.publicHalf()
                .map(SubjectPublicKeyInfo::keyId)
                .orElseGet(() -> "private " + info.revealFingerprint());
        same.computeIfAbsent(id, k -> new ArrayList<>()).add(key);
      }
    }
    Map<String, List<Holding.PrivateKey>> groups = new LinkedHashMap<>();
    same.forEach(
        (id, keys) -> {
          PrivateKeyInfo info = keys.get(0).key().orElseThrow();
          String half = id;
          if (info.publicHalf().isEmpty()) {
            var known = publicKeys.getOrDefault(info.algorithm(), Map.of()).values();
            half =
                byComputing(info, known)
                    .or(() -> byBeginning(info, known))
                    .or(() -> byTrial(info, known))
                    .or(() -> keys.stream().flatMap(key -> byLabel(key).stream()).findFirst())
                    .or(() -> byKind(info, known))
                    .orElse(id);
          }
          groups.computeIfAbsent(half, k -> new ArrayList<>()).addAll(keys);
        });
    return groups;
  }

  /** Computed only where there is something it could be the half of, and not without end. */
  private Optional<String> byComputing(
      PrivateKeyInfo info, Collection<SubjectPublicKeyInfo> known) {
    if (known.isEmpty() || trials >= Limits.FIT_TRIALS) {
      return Optional.empty();
    }
    trials++;
    return info.computedPublicHalf().map(SubjectPublicKeyInfo::keyId);
  }

  private static Optional<String> byBeginning(
      PrivateKeyInfo info, Collection<SubjectPublicKeyInfo> known) {
    return known.stream()
        .filter(info::beginsAs)
        .filter(half -> Fit.of(info, half) != Fit.DOES_NOT_FIT)
        .map(SubjectPublicKeyInfo::keyId)
        .findFirst();
  }

  private Optional<String> byTrial(PrivateKeyInfo info, Collection<SubjectPublicKeyInfo> known) {
    for (SubjectPublicKeyInfo candidate : known) {
      if (++trials > Limits.FIT_TRIALS) {
        gaveUp = true;
        return Optional.empty();
      }
      if (Fit.of(info, candidate, budget) == Fit.FITS) {
        return Optional.of(candidate.keyId());
      }
    }
    return Optional.empty();
  }

  /**
   * What the running Java can't try with, the file may say: the certificate that shares the entry
   * or the local key id of the key, and is of its algorithm.
   */
  private Optional<String> byLabel(Holding.PrivateKey key) {
    return certificatesOf(key.place().file())
        .getOrDefault(key.labels().shared(), List.of())
        .stream()
        .map(cert -> cert.certificate().publicKey())
        .filter(half -> Fit.of(key.key().orElseThrow(), half) == Fit.NOT_CHECKED)
        .findFirst()
        .map(SubjectPublicKeyInfo::keyId);
  }

  /**
   * Where this Java can't try, and one public key alone is of the kind of the private one and on
   * its curve, the two are taken for a pair, which is said to be unproven.
   */
  private static Optional<String> byKind(
      PrivateKeyInfo info, Collection<SubjectPublicKeyInfo> known) {
    List<SubjectPublicKeyInfo> possible =
        known.stream().filter(PlatformCurves::lack).distinct().limit(2).toList();
    return possible.size() == 1 && info.publicHalf().isEmpty()
        ? Optional.of(possible.get(0).keyId())
        : Optional.empty();
  }

  /** The certificates of a file that share something with a key, by what they share. */
  private Map<String, List<Holding.Cert>> certificatesOf(Path file) {
    if (byShared.isEmpty()) {
      for (Holding holding : holdings) {
        if (holding instanceof Holding.Cert cert && !cert.labels().shared().isEmpty()) {
          byShared
              .computeIfAbsent(cert.place().file(), path -> new HashMap<>())
              .computeIfAbsent(cert.labels().shared(), shared -> new ArrayList<>())
              .add(cert);
        }
      }
    }
    return byShared.getOrDefault(file, Map.of());
  }

  private Match match(
      List<Holding.PrivateKey> keys,
      Set<Certificate> certificates,
      List<Holding.Request> requests,
      List<Holding.PublicKey> publicKeys) {
    List<Certificate> best =
        certificates.stream()
            .sorted(
                // What the key signed itself only waits for what an authority signs.
                Comparator.comparing(Certificate::isSelfSigned)
                    .thenComparing(c -> !isValid(c))
                    .thenComparing(Certificate::notBefore, Comparator.reverseOrder()))
            .toList();
    Fit fit =
        best.isEmpty()
            ? Fit.NOT_CHECKED
            : Fit.of(keys.get(0).key().orElseThrow(), best.get(0).publicKey(), budget);
    return new Match(
        keys, best, requests, publicKeys, best.stream().findFirst().map(chains::from), fit);
  }

  private boolean isValid(Certificate certificate) {
    return !now.isBefore(certificate.notBefore()) && !now.isAfter(certificate.notAfter());
  }
}
