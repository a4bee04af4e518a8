// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Authority;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.text.Hex;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An authority whose records are elsewhere, and the way there and back. */
class DatabaseRecordsTest {
  private static final Clock CLOCK = Clock.systemUTC();
  private static final SubjectPublicKeyInfo KEY =
      SubjectPublicKeyInfo.of(KeyKind.EC_P256.generate(RANDOM).getPublic());

  @TempDir Path temp;
  private Path folder;
  private SigningAuthority files;
  private final MemoryRecords memory = new MemoryRecords();

  @BeforeEach
  void found() {
    folder = temp.resolve("fleet");
    files =
        SigningAuthority.found(
            folder,
            AuthorityPlan.of(name("Lanternfish Fleet"), KeyKind.EC_P256, Lifetime.years(5)),
            Optional.empty(),
            secret("seal"),
            RANDOM,
            CLOCK);
  }

  private static Certificate sign(SigningAuthority authority, String host, int days) {
    RequestDraft draft =
        RequestDraft.of(name(host), List.of(GeneralName.ofHost(host + ".example")), Use.SERVER);
    return authority.sign(new SigningOrder(draft, Lifetime.days(days)), KEY);
  }

  private SigningAuthority moved() {
    return files.moveRecords(memory, "memory");
  }

  private static List<FindingKind> kinds(List<Finding> findings) {
    return findings.stream().map(Finding::kind).toList();
  }

  private static void refused(Reason reason, Runnable work) {
    assertEquals(reason, assertThrows(SymbolonException.class, work::run).reason());
  }

  @Test
  void allThatIsOnRecordMovesThereAndBack() {
    List<Certificate> all = new ArrayList<>();
    for (int i = 0; i < 5; i++) {
      all.add(sign(files, "b" + i, 10 + i));
    }
    files.revoke(all.subList(1, 3), RevocationReason.SUPERSEDED, Lifetime.days(30));
    long register = files.folder().registerLength();
    assertTrue(register > 1_000, "octets: " + register);
    SigningAuthority there = moved();
    AuthorityFolder elsewhere = there.folder();
    assertEquals(Optional.of("memory"), elsewhere.recordsPlace());
    assertEquals(Optional.empty(), elsewhere.certificates());
    assertEquals(
        Hex.sha256(files.authority().certificate().publicKey().encoding()), elsewhere.identity());
    all.add(sign(there, "b5", 20));
    assertEquals(register, elsewhere.registerLength(), "the files stay as they are");
    Ledger ledger = elsewhere.reconcile();
    assertEquals(all, List.copyOf(ledger.issued()));
    assertEquals(List.of(), ledger.findings());
    assertEquals(List.of(), there.findings());
    assertEquals(Set.of(all.get(1).serial(), all.get(2).serial()), ledger.revoked().keySet());
    assertEquals(2, elsewhere.list().orElseThrow().size());
    assertEquals(Optional.of(all.get(4)), elsewhere.issued(all.get(4).serial()));
    assertEquals(
        RevocationReason.SUPERSEDED,
        elsewhere.revocation(all.get(1).serial()).orElseThrow().reason());
    assertEquals(Optional.empty(), elsewhere.revocation(all.get(0).serial()));
    assertEquals(List.of(all.get(5), all.get(4)), elsewhere.latest(2));
    assertEquals(6, elsewhere.latest(100).size());
    Instant now = CLOCK.instant();
    assertEquals(
        List.of(all.get(4)),
        elsewhere.ending(now.plus(Duration.ofDays(13)), now.plus(Duration.ofDays(15)), 9));
    assertEquals(List.of(all.get(3)), ledger.find("B3"));

    // Who opened the folder before goes on in neither place.
    refused(Reason.DOES_NOT_FIT, () -> sign(files, "late", 9));
    refused(Reason.DOES_NOT_FIT, () -> files.folder().reconcile());
    SigningAuthority back = there.moveRecordsIntoFiles();
    assertTrue(memory.closed);
    assertEquals(Optional.empty(), back.folder().recordsPlace());
    refused(Reason.DOES_NOT_FIT, () -> sign(there, "late", 9));
    refused(
        Reason.DOES_NOT_FIT,
        () -> there.revoke(all, RevocationReason.UNSPECIFIED, Lifetime.days(3)));
    AuthorityFolder again = AuthorityFolder.open(folder, CLOCK);
    assertEquals(all, again.reconcile().issued());
    assertEquals(List.of(), again.reconcile().findings());
    assertEquals(2, again.reconcile().revoked().size());
    assertEquals(
        memory.list.orElseThrow().sha256(), again.list().orElseThrow().sha256(), "its number, too");
    assertEquals(all, CertificateBundle.read(again.certificates().orElseThrow()));

    // A second time only what is missing is added.
    all.add(sign(back, "b6", 9));
    back.revoke(List.of(all.get(6)), RevocationReason.KEY_COMPROMISE, Lifetime.days(30));
    back.moveRecords(memory, "memory");
    assertEquals(all, memory.issued);
    assertEquals(3, memory.revoked.size());
    assertEquals(3, memory.list.orElseThrow().size());
  }

  @Test
  void recordsThatAServingProcessHasOpenAreNotMoved() {
    SigningAuthority there = moved();
    memory.shared = true;
    refused(Reason.DOES_NOT_FIT, there::moveRecordsIntoFiles);
    refused(Reason.DOES_NOT_FIT, () -> there.moveRecords(new MemoryRecords(), "other"));
    memory.shared = false;
    MemoryRecords other = new MemoryRecords();
    other.shared = true;
    refused(Reason.DOES_NOT_FIT, () -> there.moveRecords(other, "other"));
    assertEquals(Optional.of("memory"), there.folder().recordsPlace());
    assertTrue(there.authority().hasSigned(sign(there, "b", 9)));
    assertFalse(there.authority().hasSigned(INGEST.certificate()));
  }

  @Test
  void anotherCertificateUnderTheSameNumberIsNeverTakenOver() {
    Certificate one = sign(files, "one", 9);
    Certificate twin =
        io.symbolon.x509.CertificateBuilder.of(name("twin"), KEY)
            .serial(one.serial())
            .validity(CLOCK.instant(), CLOCK.instant().plus(Duration.ofDays(1)))
            .sign(files.authority().certificate(), files.authority().key(), RANDOM);
    memory.add(List.of(twin), files.authority());
    refused(Reason.EXISTS, this::moved);
    assertEquals(Optional.empty(), files.folder().recordsPlace(), "they are where they were");
    assertEquals(List.of(one), files.folder().reconcile().issued());
  }

  @Test
  void theListInTheFolderIsThatOnRecord() throws Exception {
    SigningAuthority there = moved();
    Certificate lost = sign(there, "lost", 9);
    Path list = folder.resolve(AuthorityFolder.REVOCATIONS);
    byte[] old = Files.readAllBytes(list);
    there.revoke(List.of(lost), RevocationReason.KEY_COMPROMISE, Lifetime.days(30));
    byte[] current = Files.readAllBytes(list);
    for (int i = 0; i < 2; i++) {
      if (i == 0) {
        Files.write(list, old);
      } else {
        Files.delete(list);
      }
      assertEquals(1, there.folder().list().orElseThrow().size());
      assertEquals(
          new String(current, java.nio.charset.StandardCharsets.US_ASCII),
          Files.readString(list),
          "brought up to date");
    }
    // An older copy of the records comes back: what the folder's list revokes stays revoked.
    memory.revoked.clear();
    memory.list = Optional.empty();
    memory.state =
        new RecordsState(1, memory.state.issuedLink(), 0, RecordsState.FIRST_LINK, "")
            .signed(there.authority());
    Ledger ledger = there.folder().reconcile();
    assertEquals(Set.of(lost.serial()), ledger.revoked().keySet());
    assertEquals(List.of(FindingKind.REGISTER_CHANGED), kinds(ledger.findings()));
    assertTrue(ledger.findings().get(0).statement().contains("names 1 revocations"));
    Ledger after = there.revoke(List.of(), RevocationReason.UNSPECIFIED, Lifetime.days(30));
    assertEquals(List.of(), after.findings());
    assertEquals(1, memory.revoked.size());
    assertEquals(RevocationReason.KEY_COMPROMISE, memory.revoked.get(0).reason());
  }

  @Test
  void anEntryThatWasChangedOrTakenAwayIsFound() {
    SigningAuthority there = moved();
    List<Certificate> all = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      all.add(sign(there, "b" + i, 9));
    }
    there.revoke(all.subList(0, 2), RevocationReason.SUPERSEDED, Lifetime.days(30));
    assertEquals(List.of(), there.folder().checkRecords().findings());
    RecordsState good = memory.state;
    Collections.swap(memory.issued, 1, 2);
    assertEquals(List.of(), there.folder().reconcile().findings(), "only a whole check sees that");
    changed(there, "do not lead to the last one");
    Collections.swap(memory.issued, 1, 2);
    Certificate gone = memory.issued.remove(3);
    changed(there, "they are 3 certificates and 2 revocations");
    memory.issued.add(gone);
    Authority.Revocation first = memory.revoked.get(0);
    memory.revoked.set(
        0, new Authority.Revocation(first.serial(), first.when(), RevocationReason.UNSPECIFIED));
    changed(there, "do not lead to the last one");
    memory.revoked.set(0, first);
    memory.state = new RecordsState(3, good.issuedLink(), 2, good.revokedLink(), good.signature());
    changed(there, "not what they were when the authority last signed");
    memory.state = new RecordsState(4, good.issuedLink(), 2, good.revokedLink(), "");
    changed(there, "The signature of the records is missing.");
    memory.state = new RecordsState(0, good.issuedLink(), 2, good.revokedLink(), "");
    changed(there, "The signature of the records is missing.");
    String noBase64 = "!";
    memory.state = new RecordsState(4, good.issuedLink(), 2, good.revokedLink(), noBase64);
    changed(there, "The signature of the records is damaged.");
    String other =
        Base64.getEncoder()
            .encodeToString(new byte[Base64.getDecoder().decode(good.signature()).length]);
    memory.state = new RecordsState(4, good.issuedLink(), 2, good.revokedLink(), other);
    assertEquals(FindingKind.REGISTER_CHANGED, there.findings().get(0).kind());
    memory.state = good;
    assertEquals(List.of(), there.folder().checkRecords().findings());
  }

  private void changed(SigningAuthority authority, String words) {
    List<Finding> findings = authority.folder().checkRecords().findings();
    assertTrue(
        findings.stream().anyMatch(one -> one.statement().contains(words)), findings.toString());
    assertTrue(findings.stream().allMatch(one -> one.is(FindingKind.REGISTER_CHANGED)));
  }

  @Test
  void aMillionWouldNotBeInMemoryAtOnce() {
    List<Certificate> all = new ArrayList<>();
    for (int i = 0; i < 1_100; i++) {
      all.add(
          files
              .authority()
              .sign(
                  new SigningOrder(
                      new RequestDraft(name("b" + i), List.of(), Use.CLIENT), Lifetime.days(9)),
                  KEY,
                  CLOCK.instant()));
    }
    files.folder().book().record(all, files.authority());
    SigningAuthority there = moved();
    assertEquals(all, memory.issued);
    List<Certificate> view = there.folder().reconcile().issued();
    memory.pages.clear();
    assertEquals(1_100, view.size());
    int at = 0;
    for (Certificate one : view) {
      assertEquals(all.get(at++), one);
    }
    assertEquals(List.of(1_000, 100), memory.pages, "two pages");
    assertEquals(all.get(500), view.get(500));
    assertEquals(all.get(0), view.get(0));
    assertEquals(all.get(1_099), view.get(1_099));
    assertTrue(view.contains(all.get(7)));
    assertFalse(view.contains(INGEST.certificate()));
    assertFalse(view.contains((Object) "b7"));
    assertThrows(IndexOutOfBoundsException.class, () -> view.get(1_100));
    assertThrows(IndexOutOfBoundsException.class, () -> view.get(-1));
    memory.pages.clear();
    assertEquals(List.of(), there.folder().checkRecords().findings());
    assertEquals(2, memory.pages.size(), "read in pages: " + memory.pages);
    Certificate more = sign(there, "more", 9);
    assertEquals(1_100, view.size(), "as it was when it was asked for");
    assertFalse(List.copyOf(view).contains(more));
    memory.issued.clear();
    List<Certificate> empty = new IssuedView(memory, 3);
    assertThrows(IndexOutOfBoundsException.class, () -> empty.get(1));
  }

  @Test
  void theFileThatSaysWhereTheyAreIsReadStrictly() throws Exception {
    RecordsPlace place = new RecordsPlace(folder);
    assertFalse(place.isSet());
    assertEquals(Optional.empty(), place.read());
    for (String wrong : List.of("", " ", "a\nb", "a\u0007")) {
      assertThrows(IllegalArgumentException.class, () -> place.write(wrong));
    }
    place.write("folder");
    assertTrue(place.isSet());
    assertEquals(Optional.of("folder"), place.read());
    String text = Files.readString(place.file());
    for (String damaged :
        List.of(
            "", text + "\n", text.replace("1\n", "2\n"), text.replace("folder", " "), "x\ny\n")) {
      Files.writeString(place.file(), damaged);
      refused(Reason.NOT_UNDERSTOOD, place::read);
    }
    Files.delete(place.file());
    Files.createSymbolicLink(place.file(), temp.resolve("elsewhere"));
    assertTrue(place.isSet(), "a link that leads nowhere");
    Files.delete(place.file());
    place.write("jdbc:somewhere");
    assertEquals(Optional.of("jdbc:somewhere"), place.read(), "of this account");
    place.clear();
    place.clear();
    assertEquals(Optional.empty(), place.read());
    place.write("unknown-to-this-program");
    AuthorityFolder opened = AuthorityFolder.open(folder, CLOCK);
    assertThrows(SymbolonException.class, opened::reconcile, "nothing here reads them");
  }
}
