// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.entry.StoreEntry;
import io.symbolon.join.Aliases;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Place;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Makes a bundle of the parts that are wanted. */
final class Packer {
  private final PackedContents contents;
  private final ConvertOptions options;
  private final Instant now;
  private final Set<String> aliases = new HashSet<>();
  private final List<Place> withoutHalf = new ArrayList<>();
  private final Set<Certificate> taken = new HashSet<>();
  private final Map<Place, String> made = new LinkedHashMap<>();
  private final Set<Certificate> rootsLeftOut = new LinkedHashSet<>();

  Packer(PackedContents contents, ConvertOptions options, Instant now) {
    this.contents = contents;
    this.options = options;
    this.now = now;
  }

  /** The roots that a chain was shortened by. */
  Set<Certificate> rootsLeftOut() {
    return rootsLeftOut;
  }

  /** The aliases that were made for entries of a store that had none. */
  Map<Place, String> aliasesMade() {
    return made;
  }

  /** Where the keys are whose public half was wanted and is not known. */
  List<Place> withoutHalf() {
    return withoutHalf;
  }

  Bundle pack() {
    List<StoreEntry> entries = new ArrayList<>();
    if (options.wantsKeys()) {
      for (FoundKey key : contents.keys()) {
        key.labels().alias().ifPresent(alias -> aliases.add(alias.toLowerCase(Locale.ENGLISH)));
      }
    }
    Set<String> given = new HashSet<>();
    for (FoundKey key : contents.keys()) {
      entry(key, given, entries);
    }
    certificates(entries);
    if (options.wants(ContentPart.EVERYTHING)) {
      contents
          .revocationLists()
          .forEach(crl -> entries.add(new StoreEntry.Crl(crl.alias(), crl.list())));
    }
    return new Bundle(
        entries,
        options.wants(ContentPart.REQUEST)
            ? contents.requests().stream().map(Holding.Request::request).toList()
            : List.of(),
        publicKeys(),
        contents.names());
  }

  private void entry(FoundKey key, Set<String> given, List<StoreEntry> entries) {
    List<Certificate> chain = chain(key.chain());
    if (options.wantsKeys()) {
      entries.add(
          new StoreEntry.KeyEntry(
              alias(key, given),
              key.key(),
              chain,
              key.own(),
              key.labels().localKeyId(),
              key.labels().created()));
      return;
    }
    Optional<String> name = key.labels().alias();
    for (Certificate certificate : chain) {
      boolean own = certificate.equals(key.chain().get(0));
      Optional<String> told = own ? name : Optional.ofNullable(contents.names().get(certificate));
      if (taken.add(certificate)) {
        entries.add(trusted(told, certificate, Optional.empty()));
      }
    }
  }

  private StoreEntry trusted(
      Optional<String> told, Certificate certificate, Optional<Instant> created) {
    String name =
        told.filter(alias -> !alias.isBlank())
            .filter(alias -> aliases.add(alias.toLowerCase(Locale.ENGLISH)))
            .orElseGet(() -> Aliases.unique(certificate, aliases));
    return new StoreEntry.Trusted(name, certificate, created);
  }

  private String alias(FoundKey key, Set<String> given) {
    Optional<String> told = key.labels().alias().filter(alias -> !alias.isBlank());
    if (told.isPresent() && given.add(told.get().toLowerCase(Locale.ENGLISH))) {
      return told.get();
    }
    String base =
        told.or(() -> key.chain().stream().findFirst().map(Aliases::readable)).orElse("key");
    String alias = base;
    for (int number = 2;
        !aliases.add(alias.toLowerCase(Locale.ENGLISH))
            || !given.add(alias.toLowerCase(Locale.ENGLISH));
        number++) {
      alias = base + "-" + number;
    }
    if (told.isEmpty() && contents.stores().contains(key.place().file())) {
      made.put(key.place(), alias);
    }
    return alias;
  }

  /** What of a chain is wanted. Everything is everything, the root as well. */
  private List<Certificate> chain(List<Certificate> whole) {
    if (whole.isEmpty() || options.wants(ContentPart.EVERYTHING)) {
      return whole;
    }
    boolean certificate =
        options.wants(ContentPart.CERTIFICATE) || options.wants(ContentPart.FULL_CHAIN);
    boolean above = options.wants(ContentPart.CHAIN) || options.wants(ContentPart.FULL_CHAIN);
    List<Certificate> wanted = new ArrayList<>();
    if (certificate) {
      wanted.add(whole.get(0));
    }
    if (above) {
      for (Certificate link : whole.subList(1, whole.size())) {
        if (link.isSelfSigned() && !options.withRoot()) {
          rootsLeftOut.add(link);
        } else {
          wanted.add(link);
        }
      }
    }
    return wanted;
  }

  private void certificates(List<StoreEntry> entries) {
    if (options.wants(ContentPart.EVERYTHING)) {
      for (Holding.Cert cert : contents.certificates()) {
        entries.add(entry(cert));
      }
      return;
    }
    if (!contents.keys().isEmpty()) {
      return; // their certificates are the ones that are meant
    }
    Map<Certificate, Holding.Cert> all = new LinkedHashMap<>();
    contents.certificates().forEach(cert -> all.putIfAbsent(cert.certificate(), cert));
    ChainFinder finder = new ChainFinder(all.keySet(), now, SystemRoots.none());
    Set<Certificate> wanted = new LinkedHashSet<>();
    for (Certificate head : Chooser.heads(List.copyOf(all.keySet()))) {
      wanted.addAll(chain(finder.from(head).certificates()));
    }
    for (Certificate certificate : wanted) {
      Holding.Cert cert = all.get(certificate);
      if (cert != null) {
        entries.add(entry(cert));
      }
    }
  }

  private StoreEntry entry(Holding.Cert cert) {
    Optional<String> alias = cert.alias().filter(name -> !name.isBlank());
    boolean onlyThere =
        contents.stores().contains(cert.place().file()) && options.wants(ContentPart.EVERYTHING);
    if (cert.labels().trusted() || !onlyThere) {
      return trusted(alias, cert.certificate(), cert.labels().created());
    }
    return new StoreEntry.Plain(alias, cert.certificate(), cert.labels().localKeyId());
  }

  private List<SubjectPublicKeyInfo> publicKeys() {
    Map<String, SubjectPublicKeyInfo> keys = new LinkedHashMap<>();
    if (options.parts().contains(ContentPart.PUBLIC_KEY)) {
      for (FoundKey key : contents.keys()) {
        key.chain().stream()
            .findFirst()
            .map(Certificate::publicKey)
            .or(() -> key.key().computedPublicHalf())
            .ifPresentOrElse(
                half -> keys.put(half.keyId(), half), () -> withoutHalf.add(key.place()));
      }
      if (contents.keys().isEmpty()) {
        List<Certificate> certificates =
            contents.certificates().stream().map(Holding.Cert::certificate).toList();
        Chooser.heads(certificates).forEach(head -> keys.put(head.keyId(), head.publicKey()));
      }
      contents.requests().stream()
          .map(Holding.Request::request)
          .map(CertificateRequest::publicKey)
          .forEach(half -> keys.put(half.keyId(), half));
    }
    if (options.wants(ContentPart.PUBLIC_KEY)) {
      contents.publicKeys().forEach(half -> keys.put(half.key().keyId(), half.key()));
    }
    return List.copyOf(keys.values());
  }
}
