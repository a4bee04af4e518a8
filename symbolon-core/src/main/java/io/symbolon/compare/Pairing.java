// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Finds for each thing on the one side what it has become on the other: first what is the same,
 * then what has the same key, then what has the same subject, then what covers the same host.
 */
final class Pairing {
  private final Survey one;
  private final Survey other;
  private final List<Compared> same = new ArrayList<>();
  private final List<Compared> changed = new ArrayList<>();
  private final List<Compared> alone = new ArrayList<>();

  Pairing(Survey one, Survey other) {
    this.one = one;
    this.other = other;
  }

  List<Compared> all() {
    // The same public key may be certified several times: the newest of both sides are paired.
    pair(
        Holding.Cert.class,
        cert -> Optional.of(cert.certificate().sha256()),
        List.of(
            cert -> Set.of("key " + cert.certificate().keyId()),
            cert -> subject(cert.certificate()),
            cert -> hosts(cert.certificate())));
    Map<String, Set<String>> renewed = keysOfPairs();
    pair(
        Holding.PrivateKey.class,
        Pairing::keyOf,
        List.of(key -> renewed.getOrDefault(keyOf(key).orElse(""), Set.of())));
    pair(
        Holding.Request.class,
        request -> Optional.of(request.request().sha256()),
        List.of(request -> Set.of(request.request().publicKey().keyId())));
    pair(
        Holding.Crl.class,
        crl -> Optional.of(crl.list().sha256()),
        List.of(crl -> Set.of(crl.list().issuer().toString())));
    pair(Holding.PublicKey.class, key -> Optional.of(key.key().keyId()), List.of());
    pair(Holding.SecretKey.class, key -> key.alias(), List.of());
    List<Compared> all = new ArrayList<>(same);
    all.addAll(changed);
    all.addAll(alone);
    return all;
  }

  /** For each private key of a certificate that has another on the other side: which pair it is. */
  private Map<String, Set<String>> keysOfPairs() {
    Map<Certificate, String> pairs = new HashMap<>();
    for (int i = 0; i < changed.size(); i++) {
      Compared pair = changed.get(i);
      for (List<? extends Holding> side : List.of(pair.one(), pair.other())) {
        if (side.get(0) instanceof Holding.Cert cert) {
          pairs.put(cert.certificate(), "pair " + i);
        }
      }
    }
    Map<String, Set<String>> keys = new HashMap<>();
    for (Survey side : List.of(one, other)) {
      for (Match match : side.matches()) {
        Set<String> of =
            match.certificates().stream()
                .flatMap(certificate -> Optional.ofNullable(pairs.get(certificate)).stream())
                .collect(Collectors.toSet());
        keyOf(match.key()).ifPresent(key -> keys.merge(key, of, Pairing::both));
      }
    }
    return keys;
  }

  private static Set<String> both(Set<String> one, Set<String> other) {
    Set<String> all = new HashSet<>(one);
    all.addAll(other);
    return all;
  }

  private static Optional<String> keyOf(Holding.PrivateKey key) {
    return key.key().map(PrivateKeyInfo::revealFingerprint);
  }

  /** A subject alone tells no authority from its namesake of another kind. */
  private static Set<String> subject(Certificate certificate) {
    return certificate.subject().isEmpty()
        ? Set.of()
        : Set.of(certificate.isAuthority() + " " + certificate.subject());
  }

  private static Set<String> hosts(Certificate certificate) {
    return certificate.isAuthority()
        ? Set.of()
        : certificate.alternativeNames().stream()
            .filter(GeneralName::isHost)
            .map(GeneralName::toString)
            .collect(Collectors.toSet());
  }

  /**
   * Pairs the things of one kind.
   *
   * @param id what makes two of them the same; none where that can't be told
   * @param likenesses what makes two of them belong together, the surest first
   */
  private <T extends Holding> void pair(
      Class<T> kind, Function<T, Optional<String>> id, List<Function<T, Set<String>>> likenesses) {
    Map<String, List<T>> left = byId(one, kind, id);
    Map<String, List<T>> right = byId(other, kind, id);
    for (String common : List.copyOf(left.keySet())) {
      List<T> there = right.remove(common);
      List<T> here = there == null ? null : left.remove(common);
      if (there != null && here != null) {
        same.add(new Compared(Relation.SAME, here, there, StoreDifferences.between(here, there)));
      }
    }
    for (Function<T, Set<String>> likeness : likenesses) {
      pairAlike(left, right, likeness);
    }
    left.values().forEach(places -> alone.add(only(Relation.ONLY_ONE, places)));
    right.values().forEach(places -> alone.add(only(Relation.ONLY_OTHER, places)));
  }

  private static Compared only(Relation relation, List<? extends Holding> places) {
    return relation == Relation.ONLY_ONE
        ? new Compared(relation, places, List.of(), List.of())
        : new Compared(relation, List.of(), places, List.of());
  }

  /** The newest of the one side is what the newest of the other side replaces. */
  private <T extends Holding> void pairAlike(
      Map<String, List<T>> left, Map<String, List<T>> right, Function<T, Set<String>> likeness) {
    Map<String, Deque<Aged<T>>> found = new HashMap<>();
    for (Aged<T> one : newestFirst(right)) {
      for (String word : likeness.apply(one.places().get(0))) {
        found.computeIfAbsent(word, w -> new ArrayDeque<>()).add(one);
      }
    }
    for (Aged<T> one : newestFirst(left)) {
      Optional<Aged<T>> best =
          likeness.apply(one.places().get(0)).stream()
              .flatMap(word -> free(found.get(word), right).stream())
              .max(Comparator.comparing(Aged::age));
      if (best.isPresent()) {
        right.remove(best.get().id());
        left.remove(one.id());
        changed.add(changed(one.places(), best.get().places()));
      }
    }
  }

  /** The newest that is not paired yet; what is paired is dropped, and never looked at again. */
  private static <T> Optional<Aged<T>> free(
      @Nullable Deque<Aged<T>> found, Map<String, List<T>> right) {
    while (found != null && !found.isEmpty() && !right.containsKey(found.getFirst().id())) {
      found.removeFirst();
    }
    return found == null ? Optional.empty() : Optional.ofNullable(found.peekFirst());
  }

  private record Aged<T>(String id, List<T> places, Instant age) {}

  private static <T extends Holding> List<Aged<T>> newestFirst(Map<String, List<T>> side) {
    List<Aged<T>> all = new ArrayList<>();
    side.forEach((id, places) -> all.add(new Aged<>(id, places, Ages.of(places.get(0)))));
    all.sort(Comparator.comparing((Aged<T> one) -> one.age()).reversed());
    return all;
  }

  private static Compared changed(List<? extends Holding> here, List<? extends Holding> there) {
    int order = Ages.of(there.get(0)).compareTo(Ages.of(here.get(0)));
    Relation relation =
        order > 0 ? Relation.RENEWED : order < 0 ? Relation.OLDER : Relation.DIFFERENT;
    List<Difference> differences = new ArrayList<>(StoreDifferences.between(here, there));
    differences.addAll(ContentDifferences.between(here.get(0), there.get(0)));
    return new Compared(relation, here, there, differences);
  }

  /** What is open and of one kind, by what makes it the same. */
  private static <T extends Holding> Map<String, List<T>> byId(
      Survey side, Class<T> kind, Function<T, Optional<String>> id) {
    Map<String, List<T>> all = new LinkedHashMap<>();
    for (FileSurvey file : side.files()) {
      for (Holding holding : file.holdings()) {
        if (kind.isInstance(holding)) {
          T one = kind.cast(holding);
          id.apply(one)
              .ifPresent(text -> all.computeIfAbsent(text, t -> new ArrayList<>()).add(one));
        }
      }
    }
    return all;
  }
}
