// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.byhand.WaitingKey;
import io.symbolon.key.KeyForm;
import io.symbolon.x509.CertificateRequest;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a format has no place for is left out and told, each with its number and nothing else. */
class FormatFittingTest {
  private static final StoreEntry ROOT = new StoreEntry.Trusted("root", root());
  private static final StoreEntry CRL =
      new StoreEntry.Crl(
          Optional.empty(),
          ISSUING.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.days(7)));
  private static final StoreEntry.KeyEntry KEY =
      new StoreEntry.KeyEntry("ingest", INGEST.key(), INGEST.chain());
  private static final CertificateRequest REQUEST =
      WaitingKey.like(CATALOGUE.certificate(), "catalogue", RANDOM).request();

  private static StoreEntry.KeyEntry key(boolean own, boolean id, boolean dated) {
    return new StoreEntry.KeyEntry(
        "ingest",
        INGEST.key(),
        INGEST.chain(),
        own ? Optional.of(secret("own")) : Optional.empty(),
        id ? Optional.of("0a0b") : Optional.empty(),
        dated ? Optional.of(NOW) : Optional.empty());
  }

  private static List<String> told(Format format, Bundle bundle) {
    return Conversion.of(bundle, format, KeyForm.PKCS8, "out").findings().stream()
        .map(Finding::toString)
        .toList();
  }

  private static List<String> ids(Format format, StoreEntry... entries) {
    return Conversion.of(Bundle.of(List.of(entries)), format, KeyForm.PKCS8, "out")
        .findings()
        .stream()
        .map(Finding::id)
        .toList();
  }

  private static Bundle everything() {
    return new Bundle(
        List.of(KEY, ROOT, CRL),
        List.of(REQUEST),
        List.of(CATALOGUE.certificate().publicKey()),
        Map.of());
  }

  @ParameterizedTest
  @CsvSource({
    "PEM, ''",
    "PKCS12, '1 request is left out;1 public key is left out'",
    "JKS, '1 request is left out;1 public key is left out;1 revocation list is left out'",
    "PKCS7, '1 private key is left out;1 request is left out;1 public key is left out'",
  })
  void whatHasNoPlaceIsCounted(Format format, String left) {
    List<String> told = told(format, everything());
    List<String> expected = left.isEmpty() ? List.of() : List.of(left.split(";", -1));
    assertEquals(expected.size(), told.size(), told.toString());
    for (int i = 0; i < expected.size(); i++) {
      assertTrue(told.get(i).contains(expected.get(i) + ": "), told.toString());
      assertTrue(told.get(i).contains("has no place for it."), told.toString());
    }
  }

  @Test
  void severalAreTheyAndNotIt() {
    Bundle two = new Bundle(List.of(ROOT), List.of(REQUEST, REQUEST), List.of(), Map.of());
    String told = told(Format.JKS, two).get(0);
    assertTrue(told.contains("2 requests are left out: JKS has no place for them."), told);
  }

  @Test
  void whereNothingIsLeftNothingIsWritten() {
    Bundle request = new Bundle(List.of(), List.of(REQUEST), List.of(), Map.of());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> Conversion.of(request, Format.JKS, KeyForm.PKCS8, "out"));
    assertTrue(e.seen().contains("1 request is left out"), e.seen());
    assertEquals(
        1, Conversion.of(request, Format.PEM, KeyForm.PKCS8, "out").bundle().requests().size());
  }

  @Test
  void aliasesDatesAndIdsAreToldWhereTheyAreLost() {
    assertEquals(List.of(), ids(Format.PEM, key(false, false, false)));
    assertEquals(List.of("names-left-out"), ids(Format.PEM, key(false, true, false)));
    assertEquals(List.of("names-left-out"), ids(Format.PEM, key(false, false, true)));
    assertEquals(
        List.of("names-left-out"),
        ids(Format.PEM, new StoreEntry.Trusted("root", root(), Optional.of(NOW))));
    assertEquals(
        List.of("names-left-out"),
        ids(Format.PKCS7, new StoreEntry.Trusted("root", root(), Optional.of(NOW))));
    // An id that only repeats the moment of the entry is none.
    String dates = told(Format.PEM, Bundle.of(List.of(key(false, true, true)))).get(0);
    assertTrue(dates.contains("the aliases and the dates of entries."), dates);
    String both =
        told(
                Format.PEM,
                Bundle.of(
                    List.of(
                        key(false, true, false),
                        new StoreEntry.Trusted("root", root(), Optional.of(NOW)))))
            .get(0);
    assertTrue(both.contains("the aliases and the dates of entries and local key ids."), both);
    assertEquals(List.of("names-left-out"), ids(Format.JKS, key(false, true, false)));
    assertEquals(List.of(), ids(Format.JKS, key(false, true, true)));
    assertEquals(
        List.of("dates-left-out"),
        ids(Format.PKCS12, new StoreEntry.Trusted("root", root(), Optional.of(NOW))));
    assertEquals(List.of(), ids(Format.PKCS12, key(false, true, true), ROOT));
    Bundle named = new Bundle(List.of(KEY), List.of(), List.of(), Map.of(issuing(), "between"));
    assertTrue(told(Format.JKS, named).get(0).contains("names of certificates inside a chain"));
  }

  @Test
  void aKeysOwnPasswordIsKeptOrSaidToBeLost() {
    assertEquals(List.of("key-password-left"), ids(Format.PEM, key(true, false, false)));
    assertEquals(List.of("key-password-kept"), ids(Format.PKCS12, key(true, false, false)));
    assertEquals(List.of("key-password-kept"), ids(Format.JKS, key(true, false, false)));
  }

  @Test
  void javasStoresHaveAliasesInLowerCase() {
    List<StoreEntry> many = new ArrayList<>(List.of(ROOT));
    assertEquals(List.of(), ids(Format.JKS, ROOT));
    for (int i = 0; i < 5; i++) {
      many.add(new StoreEntry.Trusted("Root-" + i, root()));
    }
    String five = told(Format.JKS, Bundle.of(many)).get(0);
    assertTrue(five.contains(": Root-0, Root-1, Root-2, Root-3, Root-4."), five);
    many.add(new StoreEntry.Trusted("Root-5", root()));
    String six = told(Format.JKS, Bundle.of(many)).get(0);
    assertTrue(six.contains(", Root-4 and 1 more."), six);
  }

  @Test
  void whatWasOnlyThereBecomesTrustedInAJavaStore() {
    StoreEntry plain = new StoreEntry.Plain(Optional.of("Root"), issuing(), Optional.empty());
    StoreEntry nameless = new StoreEntry.Plain(Optional.of(" "), root(), Optional.empty());
    Conversion conversion =
        Conversion.of(Bundle.of(List.of(ROOT, plain, nameless)), Format.JKS, KeyForm.PKCS8, "out");
    assertEquals(
        List.of("root", "lanternfish-issuing-a", "lanternfish-root"),
        conversion.bundle().entries().stream().map(one -> one.name().orElse("?")).toList(),
        "an alias that is taken, or blank, is made anew");
    assertTrue(
        conversion.findings().get(0).statement().startsWith("2 certificates that were only there"));
    String one = told(Format.JKS, Bundle.of(List.of(ROOT, plain))).get(0);
    assertTrue(one.contains("1 certificate that was only there"), one);
  }

  @Test
  void aBundleOfCertificatesHasEachOnceAndTheLists() {
    Conversion conversion = Conversion.of(everything(), Format.PKCS7, KeyForm.PKCS8, "out");
    assertEquals(INGEST.chain().size(), conversion.bundle().certificates().size());
    assertEquals(1, conversion.bundle().revocationLists().size());
    assertEquals(0, conversion.bundle().credentials().size());
  }

  @Test
  void whatWasAskedForIsWhatTheRequestSays() {
    assertEquals(
        RequestDraft.of(CATALOGUE.certificate()).names(), RequestDraft.of(REQUEST).names());
  }
}
