// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.format.Ability;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Labels;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Arranges what a survey found: gives every private key the chain that its own store gives it and,
 * where that ends early, what other files add; keeps apart what lies alone; drops repetitions.
 */
final class Arranger {
  private final Survey survey;
  private final Map<Path, ChainFinder> finders = new HashMap<>();

  private Arranger(Survey survey) {
    this.survey = survey;
  }

  static PackedContents arrange(Survey survey) {
    return new Arranger(survey).arrange();
  }

  private PackedContents arrange() {
    List<FoundKey> keys = keys();
    Set<Certificate> chained = new HashSet<>();
    Set<Certificate> own = new HashSet<>();
    for (FoundKey key : keys) {
      chained.addAll(key.chain());
      key.chain().stream().findFirst().ifPresent(own::add);
    }
    Map<Object, Holding.Cert> certificates = new LinkedHashMap<>();
    Map<Certificate, String> names = new HashMap<>();
    Map<String, Holding.Request> requests = new LinkedHashMap<>();
    Map<String, Holding.PublicKey> publicKeys = new LinkedHashMap<>();
    Map<String, Holding.Crl> lists = new LinkedHashMap<>();
    int secretKeys = 0;
    for (FileSurvey file : survey.files()) {
      for (Holding holding : file.holdings()) {
        if (holding instanceof Holding.Cert found) {
          Holding.Cert cert =
              new Holding.Cert(found.place(), labels(file, found), found.certificate());
          if (cert.labels().trusted() || !chained.contains(cert.certificate())) {
            certificates.putIfAbsent(identity(cert), cert);
          } else if (!own.contains(cert.certificate())) {
            cert.alias().ifPresent(name -> names.putIfAbsent(cert.certificate(), name));
          }
        } else if (holding instanceof Holding.Request request) {
          requests.putIfAbsent(request.request().sha256(), request);
        } else if (holding instanceof Holding.PublicKey key) {
          publicKeys.putIfAbsent(key.key().keyId(), key);
        } else if (holding instanceof Holding.Crl crl) {
          lists.putIfAbsent(crl.list().sha256(), crl);
        } else if (holding instanceof Holding.SecretKey) {
          secretKeys++;
        }
      }
    }
    return new PackedContents(
        keys,
        withoutNamelessTwins(certificates.values()),
        List.copyOf(requests.values()),
        List.copyOf(publicKeys.values()),
        List.copyOf(lists.values()),
        secretKeys,
        names,
        survey.files().stream()
            .filter(file -> file.format().can(Ability.TRUST_MARKS))
            .map(FileSurvey::path)
            .collect(Collectors.toSet()));
  }

  private record Identity(Certificate certificate, String alias, boolean trusted) {}

  private static Identity identity(Holding.Cert cert) {
    return new Identity(
        cert.certificate(),
        cert.alias().orElse("").toLowerCase(Locale.ENGLISH),
        cert.labels().trusted());
  }

  /** A certificate that lies here under a name need not be there without one as well. */
  private static List<Holding.Cert> withoutNamelessTwins(Iterable<Holding.Cert> certificates) {
    Set<Certificate> named = new HashSet<>();
    List<Holding.Cert> kept = new ArrayList<>();
    for (Holding.Cert cert : certificates) {
      if (cert.alias().isPresent()) {
        named.add(cert.certificate());
      }
    }
    for (Holding.Cert cert : certificates) {
      if (cert.alias().isPresent() || !named.contains(cert.certificate())) {
        kept.add(cert);
      }
    }
    return kept;
  }

  private List<FoundKey> keys() {
    Map<Holding.PrivateKey, Match> matches = new HashMap<>();
    for (Match match : survey.matches()) {
      match.keys().forEach(key -> matches.put(key, match));
    }
    List<FoundKey> entries = new ArrayList<>();
    Map<String, List<FoundKey>> same = new HashMap<>();
    for (FileSurvey file : survey.files()) {
      for (Holding holding : file.holdings()) {
        if (holding instanceof Holding.PrivateKey key && key.key().isPresent()) {
          Match match = matches.get(key);
          List<Certificate> chain = match == null ? List.of() : chain(file, key, match);
          FoundKey entry =
              new FoundKey(
                  key.place(), labels(file, key), key.key().get(), chain, ownPassword(file, key));
          List<FoundKey> twins = same.computeIfAbsent(identity(entry), k -> new ArrayList<>());
          if (twins.stream().noneMatch(twin -> sameName(twin, entry))) {
            twins.add(entry);
            entries.add(entry);
          }
        }
      }
    }
    return entries;
  }

  /** A folder that was made of a store has its aliases in the names of its files. */
  private static Labels labels(FileSurvey file, Holding holding) {
    boolean alone = file.holdings().size() == 1 && holding.alias().isEmpty();
    return (alone ? FileNames.objectIn(file.path()) : Optional.<String>empty())
        .map(name -> Labels.named(Optional.of(name)))
        .orElse(holding.labels());
  }

  private static String identity(FoundKey entry) {
    return entry.key().revealFingerprint()
        + entry.chain().stream().findFirst().map(Certificate::sha256);
  }

  private static boolean sameName(FoundKey one, FoundKey other) {
    Optional<String> a = one.labels().alias();
    Optional<String> b = other.labels().alias();
    return a.isEmpty() || b.isEmpty() || a.get().equalsIgnoreCase(b.get());
  }

  /** The password of the key, where it is another than that of the store around it. */
  private static Optional<Secret> ownPassword(FileSurvey file, Holding.PrivateKey key) {
    boolean store = file.format().isStore();
    return key.opener()
        .filter(own -> store && file.opener().isPresent() && !file.opener().get().equals(own));
  }

  private List<Certificate> chain(FileSurvey file, Holding.PrivateKey key, Match match) {
    List<Certificate> within = within(file, key, match.certificates());
    List<Certificate> chain = new ArrayList<>(within);
    if (chain.isEmpty() && !match.certificates().isEmpty()) {
      chain.add(match.certificates().get(0));
    }
    boolean alone = survey.files().size() == 1 && !within.isEmpty();
    if (chain.isEmpty() || alone || chain.get(chain.size() - 1).isSelfSigned()) {
      return chain;
    }
    Set<Certificate> pool = new LinkedHashSet<>(chain);
    for (FileSurvey other : survey.files()) {
      if (!other.path().equals(file.path()) || within.isEmpty()) {
        pool.addAll(loose(other));
      }
    }
    List<Certificate> longer =
        new ChainFinder(pool, survey.now(), SystemRoots.none()).from(chain.get(0)).certificates();
    return longer.size() > chain.size() ? longer : chain;
  }

  /** The chain that the key's own file gives it: its entry says so, or its certificates do. */
  private List<Certificate> within(
      FileSurvey file, Holding.PrivateKey key, List<Certificate> certificates) {
    List<Holding.Cert> here = new ArrayList<>();
    List<Certificate> entry = new ArrayList<>();
    for (Holding holding : file.holdings()) {
      if (holding instanceof Holding.Cert cert) {
        here.add(cert);
        if (key.labels().entry().isPresent()
            && key.labels().entry().equals(cert.labels().entry())) {
          entry.add(cert.certificate());
        }
      }
    }
    if (!entry.isEmpty()) {
      return entry;
    }
    Optional<Certificate> own =
        here.stream()
            .filter(cert -> certificates.contains(cert.certificate()))
            .min(java.util.Comparator.comparingInt(cert -> distance(key, cert, certificates)))
            .map(Holding.Cert::certificate);
    if (own.isEmpty()) {
      return List.of();
    }
    return finders
        .computeIfAbsent(
            file.path(), path -> new ChainFinder(loose(file), survey.now(), SystemRoots.none()))
        .from(own.get())
        .certificates();
  }

  /** How far a certificate of the key is from being the one that the file means. */
  private static int distance(
      Holding.PrivateKey key, Holding.Cert cert, List<Certificate> certificates) {
    boolean sameId =
        key.labels().localKeyId().isPresent()
            && key.labels().localKeyId().equals(cert.labels().localKeyId());
    boolean sameName = key.alias().isPresent() && key.alias().equals(cert.alias());
    return sameId ? 0 : sameName ? 1 : 2 + certificates.indexOf(cert.certificate());
  }

  /** The certificates of a file that chains are made of: those marked as trusted are not. */
  private static List<Certificate> loose(FileSurvey file) {
    List<Certificate> loose = new ArrayList<>();
    for (Holding holding : file.holdings()) {
      if (holding instanceof Holding.Cert cert && !cert.labels().trusted()) {
        loose.add(cert.certificate());
      }
    }
    return loose;
  }
}
