// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.compare.Difference.Field;
import io.symbolon.der.Oids;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.survey.Holding;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.Extension;
import io.symbolon.x509.Extensions;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.RevocationList;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/** In what two certificates, requests or revocation lists differ. */
final class ContentDifferences {
  /** Told by their content, or following from what is told. */
  private static final Set<Oid> TOLD =
      Set.of(
          Oids.SUBJECT_ALT_NAME,
          Oids.KEY_USAGE,
          Oids.EXT_KEY_USAGE,
          Oids.BASIC_CONSTRAINTS,
          Oids.SUBJECT_KEY_ID,
          Oids.AUTHORITY_KEY_ID);

  private static final int KEY_ID_SHOWN = 16; // enough to tell two keys apart

  private final List<Difference> differences = new ArrayList<>();

  private ContentDifferences() {}

  static List<Difference> between(Holding one, Holding other) {
    ContentDifferences all = new ContentDifferences();
    if (one instanceof Holding.Cert a && other instanceof Holding.Cert b) {
      all.certificates(a.certificate(), b.certificate());
    } else if (one instanceof Holding.Request a && other instanceof Holding.Request b) {
      all.requests(a.request(), b.request());
    } else if (one instanceof Holding.Crl a && other instanceof Holding.Crl b) {
      all.lists(a.list(), b.list());
    }
    return List.copyOf(all.differences);
  }

  private void certificates(Certificate one, Certificate other) {
    add(Field.SUBJECT, one, other, c -> List.of(c.subject().toString()));
    add(Field.ISSUER, one, other, c -> List.of(c.issuer().toString()));
    add(Field.VALIDITY, one, other, c -> List.of(c.notBefore() + " to " + c.notAfter()));
    add(
        Field.KEY,
        one,
        other,
        c -> List.of(c.publicKey().description() + " " + c.keyId().substring(0, KEY_ID_SHOWN)));
    extensions(one.extensions(), other.extensions());
    add(Field.SIGNATURE, one, other, c -> List.of(c.signatureAlgorithm().name()));
    if (differences.isEmpty()) {
      add(Field.SERIAL, one, other, c -> List.of(c.serialHex()));
    }
  }

  private void requests(CertificateRequest one, CertificateRequest other) {
    add(Field.SUBJECT, one, other, r -> List.of(r.subject().toString()));
    extensions(one.extensions(), other.extensions());
    add(Field.SIGNATURE, one, other, r -> List.of(r.signatureAlgorithm().name()));
  }

  private void lists(RevocationList one, RevocationList other) {
    add(
        Field.VALIDITY,
        one,
        other,
        l -> List.of(l.thisUpdate() + l.nextUpdate().map(next -> " to " + next).orElse("")));
    add(
        Field.REVOKED,
        one,
        other,
        l ->
            l.revoked(Limits.REVOCATIONS_COMPARED).stream()
                .map(entry -> entry.serial().toString(16))
                .toList());
    if (Math.max(one.size(), other.size()) > Limits.REVOCATIONS_COMPARED) {
      add(Field.REVOKED, one, other, l -> List.of(l.size() + " in all"));
    }
    add(Field.SIGNATURE, one, other, l -> List.of(l.signatureAlgorithm().name()));
  }

  private void extensions(Extensions one, Extensions other) {
    add(
        Field.NAMES,
        one,
        other,
        e -> e.subjectAlternativeNames().stream().map(Object::toString).toList());
    add(Field.USE, one, other, ContentDifferences::uses);
    add(Field.AUTHORITY, one, other, ContentDifferences::authority);
    List<String> left = new ArrayList<>();
    List<String> right = new ArrayList<>();
    Stream.of(one, other)
        .flatMap(side -> side.all().stream())
        .map(Extension::oid)
        .distinct()
        .filter(oid -> !TOLD.contains(oid) || isDamaged(oid, one) || isDamaged(oid, other))
        .forEach(
            oid -> {
              Optional<Extension> here = one.find(oid);
              Optional<Extension> there = other.find(oid);
              if (here.isPresent() && there.isPresent() && isSame(here.get(), there.get())) {
                return;
              }
              String changed = here.isPresent() && there.isPresent() ? " (another value)" : "";
              here.ifPresent(extension -> left.add(Oids.nameOrDotted(oid) + changed));
              there.ifPresent(extension -> right.add(Oids.nameOrDotted(oid) + changed));
            });
    if (!left.isEmpty() || !right.isEmpty()) {
      differences.add(new Difference(Field.EXTENSIONS, left, right));
    }
  }

  /** What can't be read is told by its octets alone. */
  private static boolean isDamaged(Oid oid, Extensions extensions) {
    return extensions.damaged().contains(oid);
  }

  private static boolean isSame(Extension one, Extension other) {
    return one.critical() == other.critical() && Arrays.equals(one.value(), other.value());
  }

  private static List<String> uses(Extensions extensions) {
    List<String> uses = new ArrayList<>();
    extensions.keyUsage().stream().flatMap(Set::stream).map(KeyUsage::title).forEach(uses::add);
    extensions.extendedKeyUsage().stream()
        .flatMap(List::stream)
        .map(Oids::nameOrDotted)
        .forEach(uses::add);
    return uses;
  }

  private static List<String> authority(Extensions extensions) {
    boolean authority = extensions.basicConstraints().filter(b -> b.authority()).isPresent();
    if (!authority) {
      return List.of("may sign no others");
    }
    var length = extensions.basicConstraints().orElseThrow().pathLength();
    return List.of(
        "may sign others" + (length.isPresent() ? ", path length " + length.getAsInt() : ""));
  }

  /** What each side has and the other has not. */
  private <T> void add(Field field, T one, T other, Function<T, List<String>> of) {
    List<String> left = of.apply(one);
    List<String> right = of.apply(other);
    Set<String> here = Set.copyOf(left);
    Set<String> there = Set.copyOf(right);
    List<String> gone = left.stream().filter(text -> !there.contains(text)).distinct().toList();
    List<String> come = right.stream().filter(text -> !here.contains(text)).distinct().toList();
    if (!gone.isEmpty() || !come.isEmpty()) {
      differences.add(new Difference(field, gone, come));
    }
  }
}
