// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What was made is compared with what was wanted: each way in which it can differ is noticed. */
class ProofTest {
  private static final SealOptions SEALED = SealOptions.sealed(secret("geheim"));
  private static final StoreEntry INGEST_ENTRY = entry(INGEST);
  private static final StoreEntry ROOT = new StoreEntry.Trusted("root", root());

  private static StoreEntry.KeyEntry entry(Credential credential) {
    return new StoreEntry.KeyEntry("entry", credential.key(), credential.chain());
  }

  private static Bundle bundle(StoreEntry... entries) {
    return Bundle.of(List.of(entries));
  }

  private static EncodedFile made(Bundle bundle, Format format) {
    return new EncodedFile("x", new Encoder(SEALED, RANDOM).encode(bundle, format), true);
  }

  private static String refused(List<EncodedFile> files, Bundle wanted) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> ReadBackProof.check(files, wanted, SEALED));
    assertEquals(Reason.NOT_WRITABLE, e.reason());
    assertTrue(e.remedy().advice().contains("nothing was changed"), e.remedy().advice());
    return e.seen();
  }

  @ParameterizedTest
  @EnumSource(
      value = Format.class,
      names = {"PEM", "PKCS12", "JKS", "JCEKS"})
  void whatDiffersIsNoticedInEveryFormat(Format format) {
    Bundle both = bundle(INGEST_ENTRY, ROOT);
    assertDoesNotThrow(() -> ReadBackProof.check(List.of(made(both, format)), both, SEALED));
    assertTrue(
        refused(List.of(made(both, format)), bundle(ROOT)).contains("though none was asked for"));
    assertTrue(
        refused(List.of(made(bundle(ROOT), format)), both).contains("private keys read from it"));
    assertTrue(
        refused(List.of(made(bundle(entry(CATALOGUE), ROOT), format)), both)
            .contains("private keys read from it"));
    StoreEntry other = new StoreEntry.Trusted("i", CATALOGUE.certificate());
    refused(List.of(made(both, format)), bundle(INGEST_ENTRY, other));
    refused(List.of(made(both, format)), bundle(INGEST_ENTRY, ROOT, other));
    refused(List.of(made(bundle(INGEST_ENTRY, ROOT, other), format)), both);
  }

  @ParameterizedTest
  @EnumSource(
      value = Format.class,
      names = {"PKCS12", "JKS", "JCEKS"})
  void entriesOfKeystoresAreComparedByTheirAliases(Format format) {
    Bundle made =
        bundle(
            INGEST_ENTRY, new StoreEntry.KeyEntry("b", CATALOGUE.key(), CATALOGUE.chain()), ROOT);
    assertDoesNotThrow(() -> ReadBackProof.check(List.of(made(made, format)), made, SEALED));
    for (Bundle wanted :
        List.of(
            // the keys under each other's alias
            bundle(
                new StoreEntry.KeyEntry("b", INGEST.key(), INGEST.chain()), entry(CATALOGUE), ROOT),
            // each other's certificates
            bundle(
                new StoreEntry.KeyEntry("entry", INGEST.key(), CATALOGUE.chain()),
                new StoreEntry.KeyEntry("b", CATALOGUE.key(), INGEST.chain()),
                ROOT),
            // trusted under another alias, or only there
            bundle(
                INGEST_ENTRY,
                new StoreEntry.KeyEntry("b", CATALOGUE.key(), CATALOGUE.chain()),
                new StoreEntry.Trusted("other", root())),
            bundle(
                INGEST_ENTRY, new StoreEntry.KeyEntry("b", CATALOGUE.key(), CATALOGUE.chain())))) {
      assertTrue(
          refused(List.of(made(made, format)), wanted).contains("its entries are not those"));
    }
  }

  @Test
  void whatCantBeOpenedAgainIsNotWritten() {
    Bundle one = bundle(INGEST_ENTRY);
    EncodedFile other =
        new EncodedFile(
            "x",
            new Encoder(SealOptions.sealed(secret("anders")), RANDOM).encode(one, Format.PKCS12),
            true);
    assertTrue(refused(List.of(other), one).contains("could not be opened again"));
    byte[] cut = made(one, Format.PKCS12).content();
    EncodedFile half = new EncodedFile("x", Arrays.copyOf(cut, cut.length / 2), true);
    assertTrue(refused(List.of(half), one).contains("could not be opened again"));
  }

  @Test
  void requestsListsAndPublicKeysAreComparedAsWell() {
    RevocationList list = ISSUING.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.days(7));
    StoreEntry crl = new StoreEntry.Crl(Optional.empty(), list);
    Bundle with = bundle(ROOT, crl);
    assertDoesNotThrow(() -> ReadBackProof.check(List.of(made(with, Format.PEM)), with, SEALED));
    String seen = "what is read from it is not what was written";
    assertTrue(refused(List.of(made(with, Format.PEM)), bundle(ROOT)).contains(seen));
    assertTrue(refused(List.of(made(bundle(ROOT), Format.PEM)), with).contains(seen));
    Bundle half =
        new Bundle(List.of(ROOT), List.of(), List.of(INGEST.certificate().publicKey()), Map.of());
    assertDoesNotThrow(() -> ReadBackProof.check(List.of(made(half, Format.PEM)), half, SEALED));
    assertTrue(refused(List.of(made(half, Format.PEM)), bundle(ROOT)).contains(seen));
    assertTrue(refused(List.of(made(bundle(ROOT), Format.PEM)), half).contains(seen));
  }

  @Test
  void severalFilesAreComparedTogether() {
    Bundle both = bundle(INGEST_ENTRY, ROOT);
    List<EncodedFile> each = new Encoder(SEALED, RANDOM).encodeEach(both, Format.PEM);
    assertEquals(4, each.size(), "a key and its chain; the root once");
    assertDoesNotThrow(() -> ReadBackProof.check(each, both, SEALED));
    refused(each.subList(0, 3), both);
    refused(each.subList(1, 4), both);
  }
}
