// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Undo;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class AuthorityFolderTest {
  private static final Clock CLOCK = Clock.systemUTC();

  @TempDir Path temp;
  private Path folder;
  private SigningAuthority root;

  @BeforeEach
  void found() {
    folder = temp.resolve("root");
    root = found(folder, "Lanternfish Root", Optional.empty());
  }

  private static SigningAuthority found(
      Path folder, String commonName, Optional<SigningAuthority> under) {
    return SigningAuthority.found(
        folder,
        AuthorityPlan.of(name(commonName), KeyKind.EC_P256, Lifetime.years(10)),
        under,
        secret("seal"),
        RANDOM,
        CLOCK);
  }

  private AuthorityFolder open() {
    return AuthorityFolder.open(folder, CLOCK);
  }

  private static SigningOrder client(int number) {
    return new SigningOrder(
        new RequestDraft(name("buoy-" + number), List.of(), Use.CLIENT), Lifetime.days(90));
  }

  private static List<SigningOrder> clients(int from, int to) {
    return IntStream.range(from, to).mapToObj(AuthorityFolderTest::client).toList();
  }

  private static List<String> ids(Ledger ledger) {
    return ledger.findings().stream().map(Finding::id).toList();
  }

  @Test
  void whatIsIssuedAndRevokedIsThereForTheNextOne() throws Exception {
    SigningAuthority below = found(temp.resolve("below"), "Issuing", Optional.of(root));
    assertEquals(
        List.of(below.folder().certificate()), open().reconcile().issued(), "the intermediate");
    List<Certificate> handedOut = new ArrayList<>();
    below.issue(
        clients(0, 300), KeyKind.EC_P256, b -> b.forEach(c -> handedOut.add(c.certificate())));
    SubjectPublicKeyInfo key =
        SubjectPublicKeyInfo.of(KeyKind.RSA_2048.generate(RANDOM).getPublic());
    handedOut.add(
        below.sign(
            new SigningOrder(
                RequestDraft.of(name("x"), List.of(GeneralName.ofHost("x.example")), Use.SERVER),
                Lifetime.days(9)),
            key));

    AuthorityFolder again = AuthorityFolder.open(temp.resolve("below"), CLOCK);
    SigningAuthority signing = again.unlock(List.of(secret("wrong"), secret("seal")), RANDOM);
    assertEquals(handedOut, again.reconcile().issued());
    assertEquals(2, again.chain().size());
    Certificate lost = handedOut.get(7);
    assertEquals(List.of(lost), again.reconcile().find("BUOY-7"));
    assertEquals(List.of(lost), again.reconcile().find(lost.serialHex().substring(0, 20)));
    Ledger after =
        signing.revoke(List.of(lost), RevocationReason.KEY_COMPROMISE, Lifetime.days(30));
    assertEquals(Ledger.Standing.REVOKED, after.standing(lost, CLOCK.instant()));
    assertEquals(1, after.list().orElseThrow().size());
    Ledger twice = signing.revoke(List.of(lost), RevocationReason.SUPERSEDED, Lifetime.days(30));
    assertEquals(
        RevocationReason.KEY_COMPROMISE,
        java.util.Objects.requireNonNull(twice.revoked().get(lost.serial())).reason());
    assertTrue(
        twice
                .list()
                .orElseThrow()
                .extensions()
                .listNumber()
                .orElseThrow()
                .compareTo(after.list().orElseThrow().extensions().listNumber().orElseThrow())
            > 0);
    assertEquals(
        "rw-------",
        PosixFilePermissions.toString(
            Files.getPosixFilePermissions(folder.resolve(AuthorityFolder.KEY))));
    assertFalse(
        Files.readString(folder.resolve(AuthorityFolder.KEY)).contains("BEGIN PRIVATE KEY"));
  }

  @Test
  void wrongPasswordsWrongFoldersAndWrongKeysAreNamed() throws Exception {
    SymbolonException locked =
        assertThrows(
            SymbolonException.class, () -> open().unlock(List.of(secret("wrong")), RANDOM));
    assertEquals(Reason.LOCKED, locked.reason());
    assertEquals("The key of Lanternfish Root was not opened.", locked.statement());
    assertEquals(
        Reason.NOT_FOUND,
        assertThrows(SymbolonException.class, () -> AuthorityFolder.open(temp, CLOCK)).reason());
    Files.write(
        Files.createDirectory(temp.resolve("no")).resolve(AuthorityFolder.CERTIFICATE),
        Lanternfish.pem(Lanternfish.INGEST.certificate()));
    assertEquals(
        Reason.NOT_UNDERSTOOD,
        assertThrows(SymbolonException.class, () -> AuthorityFolder.open(temp.resolve("no"), CLOCK))
            .reason());
    assertEquals(
        Reason.EXISTS,
        assertThrows(SymbolonException.class, () -> found(folder, "Other", Optional.empty()))
            .reason());
    // Another authority of the same name: its key does not fit, and its chain leads elsewhere.
    SigningAuthority twin = found(temp.resolve("twin"), "Lanternfish Root", Optional.empty());
    Files.copy(
        temp.resolve("twin").resolve(AuthorityFolder.KEY),
        folder.resolve(AuthorityFolder.KEY),
        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    assertEquals(
        Reason.DOES_NOT_FIT,
        assertThrows(SymbolonException.class, () -> open().unlock(List.of(secret("seal")), RANDOM))
            .reason());
    Files.write(
        open().certificates().orElseThrow(),
        Lanternfish.pem(twin.issue(client(1), KeyKind.EC_P256).certificate()));
    assertEquals(List.of("not-issued-here"), ids(open().reconcile()));
    try (Stream<Path> left = Files.list(temp)) {
      assertTrue(left.noneMatch(p -> p.getFileName().toString().startsWith(".symbolon")));
    }
  }

  @Test
  void aCrashInTheMiddleOfALineLosesOnlyWhatWasNeverHandedOut() throws Exception {
    Certificate first = root.issue(client(1), KeyKind.EC_P256).certificate();
    Path register = folder.resolve(Register.NAME);
    Files.writeString(register, "issued MIIB", StandardOpenOption.APPEND);
    assertEquals(List.of(first), open().reconcile().issued());
    Certificate second =
        open()
            .unlock(List.of(secret("seal")), RANDOM)
            .issue(client(2), KeyKind.EC_P256)
            .certificate();
    assertEquals(List.of(first, second), open().reconcile().issued());
    assertEquals(List.of(), ids(open().reconcile()));
    // What a crash left of the file beside it is written again from the register.
    byte[] whole = Files.readAllBytes(open().certificates().orElseThrow());
    for (int length : new int[] {0, 100, whole.length - 1}) {
      Files.write(open().certificates().orElseThrow(), java.util.Arrays.copyOf(whole, length));
      assertEquals(List.of(), ids(open().reconcile()));
      assertArrayEquals(whole, Files.readAllBytes(open().certificates().orElseThrow()));
    }
    // One that signs meets it first: nothing is appended to a broken end.
    Files.write(open().certificates().orElseThrow(), java.util.Arrays.copyOf(whole, 100));
    Certificate third = root.issue(client(3), KeyKind.EC_P256).certificate();
    assertEquals(
        List.of(first, second, third), CertificateBundle.read(open().certificates().orElseThrow()));
    // An old register was brought back.
    Files.write(register, Register.empty());
    assertEquals(List.of("register-completed"), ids(open().reconcile()));
    assertEquals(3, open().reconcile().issued().size());
  }

  @Test
  void aRegisterThatIsShortenedWithoutTheKeyIsNoticed() throws Exception {
    root.issue(clients(0, 3), KeyKind.EC_P256, b -> {});
    Path register = folder.resolve(Register.NAME);
    byte[] before = Files.readAllBytes(register);
    byte[] bundle = Files.readAllBytes(open().certificates().orElseThrow());
    root.issue(client(4), KeyKind.EC_P256);
    assertEquals(List.of(), ids(open().reconcile()));
    Files.write(register, before);
    Files.write(open().certificates().orElseThrow(), bundle);
    assertEquals(List.of("register-changed"), ids(open().reconcile()));
    assertEquals(List.of("register-changed"), root.findings().stream().map(Finding::id).toList());
    Files.delete(folder.resolve(RegisterHead.NAME));
    assertEquals(List.of("register-changed"), ids(open().reconcile()));
    root.issue(client(5), KeyKind.EC_P256);
    assertEquals(List.of(), ids(open().reconcile()));
  }

  @Test
  void aDamagedRegisterIsRebuiltFromWhatLiesBesideIt() throws Exception {
    List<Certificate> all = new ArrayList<>();
    root.issue(clients(0, 5), KeyKind.EC_P256, b -> b.forEach(c -> all.add(c.certificate())));
    root.revoke(all.subList(1, 3), RevocationReason.SUPERSEDED, Lifetime.days(30));
    Path register = folder.resolve(Register.NAME);
    byte[] content = Files.readAllBytes(register);
    content[content.length / 2] ^= 1;
    for (byte[] damaged :
        List.of(content, new byte[0], "nonsense".getBytes(StandardCharsets.UTF_8))) {
      Files.write(register, damaged);
      Ledger ledger = open().reconcile();
      // Written anew in another order it is not what the authority's key has signed.
      assertEquals("register-rebuilt", ids(ledger).get(0));
      assertEquals(new HashSet<>(all), new HashSet<>(ledger.issued()));
      assertEquals(Set.of(all.get(1).serial(), all.get(2).serial()), ledger.revoked().keySet());
      assertTrue(
          Set.of("register-changed").containsAll(ids(open().reconcile())),
          ids(open().reconcile())::toString);
    }
    assertFalse(Undo.versions(register).isEmpty());
    // One that signs when it meets the damage mends it first and forgets nothing.
    Files.write(register, content);
    root.issue(client(9), KeyKind.EC_P256);
    assertEquals(6, open().reconcile().issued().size());
    assertEquals(2, open().reconcile().revoked().size());
  }

  @Test
  void aRevocationListThatIsLostOrOldIsAProblem() throws Exception {
    Certificate lost = root.issue(client(1), KeyKind.EC_P256).certificate();
    Path list = folder.resolve(AuthorityFolder.REVOCATIONS);
    byte[] before = Files.readAllBytes(list);
    root.revoke(List.of(lost), RevocationReason.UNSPECIFIED, Lifetime.days(30));
    byte[] after = Files.readAllBytes(list);
    Files.write(list, before);
    assertEquals(List.of("revocation-list-behind"), ids(open().reconcile()));
    Files.delete(list);
    assertEquals(List.of("revocation-list-absent"), ids(open().reconcile()));
    assertEquals(
        List.of(), ids(root.revoke(List.of(), RevocationReason.UNSPECIFIED, Lifetime.days(90))));
    Files.write(list, after);
    Clock later = Clock.fixed(CLOCK.instant().plus(Duration.ofDays(20)), ZoneOffset.UTC);
    assertEquals(
        List.of("revocation-list-due"), ids(AuthorityFolder.open(folder, later).reconcile()));
    Clock past = Clock.fixed(CLOCK.instant().plus(Duration.ofDays(40)), ZoneOffset.UTC);
    assertEquals(
        List.of("revocation-list-expired"), ids(AuthorityFolder.open(folder, past).reconcile()));
  }

  @Test
  void manyAtOnceLoseNothingAndUseNoSerialTwice() throws Exception {
    ExecutorService pool = Executors.newFixedThreadPool(6);
    try {
      List<Callable<Void>> work = new ArrayList<>();
      for (int worker = 0; worker < 6; worker++) {
        int from = worker * 100;
        work.add(
            () -> {
              SigningAuthority mine = open().unlock(List.of(secret("seal")), RANDOM);
              for (int i = 0; i < 4; i++) {
                mine.issue(clients(from + 5 * i, from + 5 * i + 5), KeyKind.EC_P256, b -> {});
                Certificate last = mine.issue(client(from + 50 + i), KeyKind.EC_P256).certificate();
                mine.revoke(List.of(last), RevocationReason.UNSPECIFIED, Lifetime.days(30));
              }
              return null;
            });
      }
      for (Future<Void> one : pool.invokeAll(work)) {
        one.get();
      }
    } finally {
      pool.shutdownNow();
    }
    Ledger ledger = open().reconcile();
    assertEquals(List.of(), ids(ledger));
    assertEquals(6 * 24, ledger.issued().size());
    assertEquals(24, ledger.list().orElseThrow().size());
    assertEquals(6 * 24, ledger.issued().stream().map(Certificate::serial).distinct().count());
    assertEquals(ledger.issued(), CertificateBundle.read(open().certificates().orElseThrow()));
  }

  @Test
  void whatEndsAndWhatWasIssuedLastIsFound() {
    List<Certificate> all = new ArrayList<>();
    for (int days : new int[] {30, 10, 20, 40}) {
      RequestDraft draft =
          new RequestDraft(
              name("h" + days), List.of(GeneralName.ofHost("h" + days + ".example")), Use.SERVER);
      all.add(
          root.issue(new SigningOrder(draft, Lifetime.days(days)), KeyKind.EC_P256).certificate());
    }
    RequestDraft again =
        new RequestDraft(name("h10"), List.of(GeneralName.ofHost("h10.example")), Use.SERVER);
    Certificate renewed =
        root.issue(new SigningOrder(again, Lifetime.days(25)), KeyKind.EC_P256).certificate();
    root.revoke(List.of(all.get(2)), RevocationReason.SUPERSEDED, Lifetime.days(30));
    java.time.Instant now = CLOCK.instant();
    java.time.Instant month = now.plus(Duration.ofDays(31));
    AuthorityFolder opened = open();
    assertEquals(
        List.of(renewed, all.get(0)),
        opened.ending(now, month, 9),
        "soonest first, without what was revoked or renewed");
    assertEquals(List.of(renewed), opened.ending(now, month, 1));
    assertEquals(List.of(), opened.ending(month, month, 9));
    assertEquals(
        List.of(renewed),
        opened.ending(renewed.notAfter(), renewed.notAfter(), 9),
        "to the second");
    assertEquals(List.of(renewed, all.get(3)), opened.latest(2));
    assertEquals(5, opened.latest(9).size());
    assertEquals(Optional.of(all.get(1)), opened.issued(all.get(1).serial()));
    assertEquals(Optional.empty(), opened.issued(java.math.BigInteger.ONE));
    assertEquals(
        RevocationReason.SUPERSEDED, opened.revocation(all.get(2).serial()).orElseThrow().reason());
    assertEquals(Optional.empty(), opened.revocation(all.get(0).serial()));
    assertEquals(1, opened.list().orElseThrow().size());
    Ledger ledger = opened.reconcile();
    assertEquals(Ledger.Standing.VALID, ledger.standing(renewed, renewed.notAfter()));
    assertEquals(
        Ledger.Standing.EXPIRED, ledger.standing(renewed, renewed.notAfter().plusSeconds(1)));
    assertEquals(List.of(), ledger.find("h11"));
    assertEquals(List.of(all.get(1), renewed), ledger.find("H10"));
    opened.close();
  }

  @Test
  void aRegisterThatWasWrittenAnewIsReadAnew() throws Exception {
    Certificate first = root.issue(client(1), KeyKind.EC_P256).certificate();
    AuthorityFolder opened = open();
    assertEquals(Optional.of(first), opened.issued(first.serial()));
    Path register = folder.resolve(Register.NAME);
    byte[] content = Files.readAllBytes(register);
    Files.delete(register);
    Files.write(register, Register.empty());
    assertEquals(Optional.empty(), opened.issued(first.serial()), "shorter");
    Files.delete(register);
    Files.write(register, content);
    assertEquals(Optional.of(first), opened.issued(first.serial()));
    // Lines that say nothing this program knows.
    for (String line : List.of("issued", "noted today", "revoked 17 yesterday superseded", " ")) {
      Files.write(register, content);
      String sum =
          io.symbolon.text.Hex.sha256(line.getBytes(StandardCharsets.US_ASCII)).substring(0, 16);
      Files.writeString(register, line + " " + sum + "\n", StandardOpenOption.APPEND);
      assertTrue(ids(open().reconcile()).contains("register-rebuilt"), line);
    }
    Finding rebuilt = open().reconcile().findings().stream().findFirst().orElse(null);
    assertTrue(rebuilt == null || rebuilt.where().contains("register"), "names the file");
  }

  @Test
  void aHeadThatSaysNonsenseIsNoticed() throws Exception {
    root.issue(client(1), KeyKind.EC_P256);
    Path head = folder.resolve(RegisterHead.NAME);
    String good = Files.readString(head);
    List<String> damaged =
        List.of(
            "",
            "x\n" + good,
            good.replace("head 1", "head 2"),
            good.replace("signature ", "sign "),
            good.replaceAll("signature .*", "signature !"),
            good.replaceAll("length \\d+", "length 1"));
    for (String text : damaged) {
      Files.writeString(head, text);
      assertEquals(List.of("register-changed"), ids(open().reconcile()), text);
    }
    SigningAuthority other = found(temp.resolve("other"), "Lanternfish Root", Optional.empty());
    Files.write(head, RegisterHead.of(new byte[0], other.authority().key()));
    assertTrue(
        open().reconcile().findings().get(0).statement().contains("not signed by the authority"));
    Files.write(head, RegisterHead.of(Register.empty(), root.authority().key()));
    assertEquals(List.of(), ids(open().reconcile()), "the register goes on from there");
  }

  @Test
  void whoFailsToTakeABatchStillFindsItsKeys() {
    UndeliveredBatchException undelivered =
        assertThrows(
            UndeliveredBatchException.class,
            () ->
                root.issue(
                    clients(0, 3),
                    KeyKind.EC_P256,
                    batch -> {
                      throw new IllegalStateException("the disk is full");
                    }));
    assertEquals(3, undelivered.credentials().size());
    assertTrue(undelivered.seen().contains("the disk is full"), undelivered.seen());
    assertEquals(
        open().reconcile().issued(),
        undelivered.credentials().stream().map(one -> one.certificate()).toList(),
        "on record is what the exception holds");
  }
}
