// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.byhand.WaitingKey;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.key.KeyForm;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Where a key waits, its certificate is put: into that keystore, and into no other. */
@SuppressWarnings("NullAway.Init") // made before each test
class WaitingPlaceTest {
  private static final WaitingKey WAITING =
      WaitingKey.like(CATALOGUE.certificate(), "catalogue", RANDOM);
  private static final Certificate REPLY =
      ISSUING.sign(new SigningOrder(WAITING.draft(), Lifetime.days(300)), WAITING.publicKey(), NOW);

  @TempDir Path folder;
  private Path reply;

  @BeforeEach
  void write() {
    reply = file(folder, "reply.pem", pem(REPLY, issuing(), root()));
  }

  private static Surveyor surveyor() {
    return Surveyor.create()
        .withSystemRoots(SystemRoots.none())
        .withUnlock(List.of(secret("geheim")));
  }

  private Path store(String name, StoreEntry... entries) {
    byte[] content =
        Conversion.of(
                Bundle.of(List.of(entries)), Format.ofName(name).orElseThrow(), KeyForm.PKCS8, "x")
            .encode("x", SealOptions.sealed(secret("geheim")), RANDOM)
            .content();
    return file(folder, name, content);
  }

  private static Optional<Path> place(Optional<Path> into, Path... files) {
    Survey survey = surveyor().survey(List.of(files));
    return InPlaceCompletion.keystore(Joiner.join(survey, JoinOptions.standard()), survey, into);
  }

  @Test
  void theKeystoreInWhichItWaitsIsMeant() throws Exception {
    Path waits = store("waits.p12", WAITING.entry(NOW, true));
    assertEquals(Optional.of(waits), place(Optional.empty(), waits, reply));
    assertEquals(Optional.of(waits), place(Optional.of(waits), waits, reply));
    Path other = folder.resolve("other.p12");
    assertEquals(Optional.empty(), place(Optional.of(other), waits, reply));
    Files.copy(waits, other);
    assertEquals(Optional.empty(), place(Optional.of(other), waits, reply), "not named");
    Path link = Files.createSymbolicLink(folder.resolve("link.p12"), waits);
    assertEquals(Optional.of(waits), place(Optional.of(link), waits, reply), "the same file");
  }

  @Test
  void whereItLiesInNoneOrInSeveralIsSaid() {
    Path key =
        file(
            folder,
            "k.pem",
            io.symbolon.pem.PemWriter.write("PRIVATE KEY", WAITING.key().revealPkcs8()));
    SymbolonException none =
        assertThrows(SymbolonException.class, () -> place(Optional.empty(), key, reply));
    assertEquals(Reason.INVALID_ARGUMENT, none.reason());
    assertTrue(none.seen().contains("not lie in a keystore"), none.seen());
    Path one = store("one.p12", WAITING.entry(NOW, true));
    Path two = store("two.jks", WAITING.entry(NOW, true));
    SymbolonException several =
        assertThrows(SymbolonException.class, () -> place(Optional.empty(), one, two, reply));
    assertEquals(Reason.AMBIGUOUS, several.reason());
    assertTrue(several.seen().contains("one.p12, "), several.seen());
    assertEquals(Optional.of(two), place(Optional.of(two), one, two, reply));
    assertEquals(Optional.of(one), place(Optional.empty(), one, key, reply), "PEM is none");
  }

  @Test
  void itGetsItsCertificateUnderItsAliasAndAllElseStays() {
    StoreEntry other = new StoreEntry.KeyEntry("first", CATALOGUE.key(), CATALOGUE.chain());
    StoreEntry trusted = new StoreEntry.Trusted("root", root());
    Path waits = store("waits.p12", other, WAITING.entry(NOW, true), trusted);
    Survey survey = surveyor().survey(List.of(waits, reply));
    Joined joined = Joiner.join(survey, JoinOptions.standard().withAlias("catalogue"));
    InPlaceCompletion completion = InPlaceCompletion.of(waits, surveyor(), joined);
    assertEquals(Optional.of("catalogue"), completion.alias());
    List<StoreEntry> entries = completion.conversion().bundle().entries();
    assertEquals(3, entries.size());
    StoreEntry.KeyEntry completed =
        entries.stream()
            .filter(one -> one instanceof StoreEntry.KeyEntry k && k.alias().equals("catalogue"))
            .map(StoreEntry.KeyEntry.class::cast)
            .findFirst()
            .orElseThrow();
    assertEquals(List.of(REPLY, issuing()), completed.chain());
    assertEquals(WAITING.key().revealFingerprint(), completed.key().revealFingerprint());
    assertTrue(
        entries.stream()
            .anyMatch(
                one ->
                    one instanceof StoreEntry.KeyEntry k
                        && k.alias().equals("first")
                        && k.chain().get(0).equals(CATALOGUE.certificate())));
  }

  @Test
  void anEntryThatIsThereTwiceIsNotGuessed() {
    StoreEntry.KeyEntry waiting = WAITING.entry(NOW, true);
    StoreEntry twin = new StoreEntry.KeyEntry("twin", waiting.key(), waiting.chain());
    Path waits = store("twice.p12", waiting, twin);
    Survey survey = surveyor().survey(List.of(waits, reply));
    Joined joined = Joiner.join(survey, JoinOptions.standard().withAlias("catalogue"));
    SymbolonException e =
        assertThrows(
            SymbolonException.class, () -> InPlaceCompletion.of(waits, surveyor(), joined));
    assertEquals(Reason.AMBIGUOUS, e.reason());
    assertTrue(e.seen().contains("there 2 times"), e.seen());
    // Of one that waits and one that is in use, the waiting one is meant.
    Path half =
        store(
            "half.p12",
            waiting,
            new StoreEntry.KeyEntry("used", waiting.key(), List.of(REPLY, issuing())));
    Survey both = surveyor().survey(List.of(half, reply));
    Joined again = Joiner.join(both, JoinOptions.standard().withAlias("catalogue"));
    assertEquals(
        2, InPlaceCompletion.of(half, surveyor(), again).conversion().bundle().entries().size());
  }
}
