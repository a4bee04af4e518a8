// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.pile;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Der;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.format.Format;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.Fit;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class SurveyTest {
  private static final Surveyor SURVEYOR =
      Surveyor.create()
          .withClock(Clock.fixed(NOW, ZoneOffset.UTC))
          .withSystemRoots(SystemRoots.none());

  @TempDir Path folder;

  private Survey survey(Path... paths) {
    return SURVEYOR.survey(List.of(paths));
  }

  private static List<String> ids(Survey survey) {
    return survey.findings().stream().map(Finding::id).sorted().toList();
  }

  private static Finding finding(Survey survey, String id) {
    return survey.findings().stream()
        .filter(f -> f.id().equals(id))
        .findFirst()
        .orElseThrow(() -> new AssertionError("no " + id + " in " + survey.findings()));
  }

  @Test
  void thePileOfTheStoryIsUnderstood() {
    Survey survey = SURVEYOR.withHosts(List.of(HostName.parse(HOST))).survey(List.of(pile(folder)));
    assertEquals(
        List.of(Format.PEM, Format.PEM, Format.DER),
        survey.files().stream().map(FileSurvey::format).toList());
    assertEquals(1, survey.matches().size());
    Match match = survey.matches().get(0);
    assertEquals(Fit.FITS, match.fit());
    assertEquals(
        List.of(INGEST.certificate(), issuing(), root()),
        match.chain().orElseThrow().certificates());
    assertEquals(
        List.of("chain-order", "duplicate", "end-entity-in-bundle", "host-covered"), ids(survey));
    assertTrue(survey.failures().isEmpty());
    Action next = survey.nextSteps().get(0).action().orElseThrow();
    assertEquals(Task.JOIN, next.task());
    assertEquals(folder + "/ingest_private.txt", next.on().get(0));
    assertEquals(List.of("ingest.p12"), next.inputs().get(Input.INTO));
    assertEquals(Task.TRUSTSTORE, survey.nextSteps().get(1).action().orElseThrow().task());
  }

  /** Every kind of key finds its certificate, also the one that carries no public half. */
  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#kinds")
  void everyKindOfKeyFindsItsCertificateAmongOthers(KeyKind kind) {
    Credential wanted = io.symbolon.fixture.Lanternfish.server("a.lanternfish.example", kind);
    Credential other = io.symbolon.fixture.Lanternfish.server("b.lanternfish.example", kind);
    file(folder, "key", keyPem(wanted));
    file(folder, "1.cer", pem(other.certificate()));
    file(folder, "2.cer", pem(wanted.certificate()));
    Survey survey = survey(folder);
    assertEquals(List.of(wanted.certificate()), survey.matches().get(0).certificates());
    assertEquals(Fit.FITS, survey.matches().get(0).fit());
  }

  @Test
  void namesAreNeverTrusted() {
    file(folder, "picture.jpg", INGEST.certificate().encoding());
    file(folder, "notes.txt", new String(keyPem(INGEST), StandardCharsets.US_ASCII));
    file(folder, "certificate.pem", store(secret("geheim")));
    file(folder, "keystore.p12", pem(issuing()));
    Survey survey = SURVEYOR.withUnlock(List.of(secret("geheim"))).survey(List.of(folder));
    assertEquals(
        List.of(Format.PKCS12, Format.PEM, Format.PEM, Format.DER),
        survey.files().stream().map(FileSurvey::format).toList());
    assertEquals(2, survey.matches().size());
  }

  private static byte[] store(Secret secret) {
    return Pkcs12Writer.write(
        List.of(new StoreEntry.KeyEntry("catalogue", CATALOGUE.key(), CATALOGUE.chain())),
        secret,
        RANDOM);
  }

  @Test
  void severalStructuresInOneFileAreAllFound() {
    ByteArrayOutputStream der = new ByteArrayOutputStream();
    der.writeBytes(INGEST.certificate().encoding());
    der.writeBytes(issuing().encoding());
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    pem.writeBytes(keyPem(INGEST));
    pem.writeBytes(pem(INGEST.certificate(), issuing()));
    Survey survey =
        survey(
            file(folder, "several.der", der.toByteArray()),
            file(folder, "all.pem", pem.toByteArray()));
    assertEquals(2, survey.files().get(0).holdings().size());
    assertEquals(3, survey.files().get(1).holdings().size());
    assertEquals("line 1", survey.files().get(1).holdings().get(0).place().position());
  }

  @Test
  void derWithALineFeedBehindItIsRead() {
    byte[] der = Arrays.copyOf(INGEST.certificate().encoding(), INGEST.certificate().length() + 2);
    der[der.length - 2] = '\r';
    der[der.length - 1] = '\n';
    assertEquals(1, survey(file(folder, "x", der)).certificates().size());
  }

  @Test
  void aMissingIntermediateAndAMissingRootAreTold() {
    file(folder, "key", keyPem(INGEST));
    file(folder, "reply", pem(INGEST.certificate()));
    Survey lacking = survey(folder);
    assertEquals(Level.WARNING, finding(lacking, "issuer-absent").level());
    assertTrue(finding(lacking, "issuer-absent").statement().contains("Lanternfish Issuing A"));
    assertTrue(lacking.nextSteps().get(0).action().isEmpty(), "nothing to do here yet");

    file(folder, "bundle", pem(issuing()));
    Survey rootless = survey(folder);
    assertEquals(Level.WARNING, finding(rootless, "root-absent").level());
    assertTrue(finding(rootless, "root-absent").statement().contains("Lanternfish Root"));
  }

  @Test
  void expiryIsAFindingWithTheDay() {
    pile(folder);
    Clock later = Clock.fixed(NOW.plus(Duration.ofDays(366)), ZoneOffset.UTC);
    Survey survey = SURVEYOR.withClock(later).survey(List.of(folder));
    assertEquals(Level.PROBLEM, finding(survey, "expired").level());
    Clock soon = Clock.fixed(NOW.plus(Duration.ofDays(340)), ZoneOffset.UTC);
    assertEquals(
        Level.WARNING,
        finding(SURVEYOR.withClock(soon).survey(List.of(folder)), "expires-soon").level());
  }

  @Test
  void aHostThatNothingCoversIsAProblem() {
    Survey survey =
        SURVEYOR
            .withHosts(List.of(HostName.parse("archive-db.lanternfish.example")))
            .survey(List.of(pile(folder)));
    assertEquals(Level.PROBLEM, finding(survey, "host-not-covered").level());
  }

  @Test
  void anOpenKeyThatOthersMayReadIsAProblemAndASealedOneIsNot() throws IOException {
    Path open = file(folder, "open", keyPem(INGEST));
    byte[] sealed =
        EncryptedPrivateKeyInfo.seal(
                CATALOGUE.key(), Protection.strong(RANDOM, 1000), secret("geheim"))
            .encoding();
    Path closed = file(folder, "sealed", PemWriter.write("ENCRYPTED PRIVATE KEY", sealed));
    for (Path file : List.of(open, closed)) {
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-r--r--"));
    }
    Survey survey = SURVEYOR.withUnlock(List.of(secret("geheim"))).survey(List.of(open, closed));
    Finding finding = finding(survey, "key-readable-by-others");
    assertEquals(open.toString(), finding.where());
    assertEquals(1, survey.findings().stream().filter(f -> f.id().equals(finding.id())).count());
    assertEquals(List.of(Action.of(Task.CLOSE_FILE, open)), finding.remedy().actions());

    Files.setPosixFilePermissions(open, PosixFilePermissions.fromString("rwxr-----"));
    assertEquals(Level.WARNING, finding(survey(open), "key-readable-by-others").level());
    // As servers want it that read it under an account of their own: root's, and a group's to read.
    Files.setPosixFilePermissions(open, PosixFilePermissions.fromString("rw-r-----"));
    boolean root = Files.getOwner(open).getName().equals("root");
    assertEquals(
        root ? Level.NOTE : Level.WARNING,
        finding(survey(open), root ? "key-read-by-group" : "key-readable-by-others").level());
  }

  @Test
  void aKeyThatFitsNothingAndOneThatIsThereTwiceAreTold() {
    file(folder, "a", keyPem(INGEST));
    file(folder, "b", keyPem(INGEST));
    file(folder, "c", pem(CATALOGUE.certificate(), issuing(), root()));
    Survey survey = survey(folder);
    finding(survey, "key-without-certificate");
    finding(survey, "key-in-several-files");
    assertEquals(1, survey.matches().size());
  }

  @Test
  void aLockedStoreSaysWhatWasTried() {
    Path store = file(folder, "catalogue.p12", store(secret("geheim")));
    Survey none = survey(store);
    assertTrue(none.files().get(0).locked());
    assertEquals(Reason.LOCKED, none.failures().get(0).reason());
    assertTrue(none.failures().get(0).seen().contains("none was given"));
    assertEquals(
        Action.of(Task.SURVEY, store).with(Input.PASSWORD),
        none.nextSteps().get(0).action().orElseThrow());

    Survey wrong = SURVEYOR.withUnlock(List.of(secret("wrong"))).survey(List.of(store));
    assertTrue(wrong.failures().get(0).seen().contains("tried: file=pass.txt"));

    Survey right =
        SURVEYOR.withUnlock(List.of(secret("wrong"), secret("geheim"))).survey(List.of(store));
    assertTrue(right.failures().isEmpty());
    assertEquals("catalogue", right.matches().get(0).name());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "empty",
        "jpeg",
        "zeros",
        "text",
        "truncated DER",
        "cut PEM",
        "missing",
        "other DER"
      })
  void whatHoldsNothingFailsWithOneClearMessage(String kind) {
    byte[] der = INGEST.certificate().encoding();
    String pem = new String(pem(INGEST.certificate()), StandardCharsets.US_ASCII);
    byte[] content =
        switch (kind) {
          case "empty" -> new byte[0];
          case "jpeg" ->
              new byte[] {(byte) 0xFF, (byte) 0xD8, (byte) 0xFF, (byte) 0xE0, 0, 16, 'J', 'F'};
          case "zeros" -> new byte[100_000];
          case "text" -> "0 is the first character here".getBytes(StandardCharsets.UTF_8);
          case "truncated DER" -> Arrays.copyOf(der, der.length / 2);
          case "cut PEM" -> pem.substring(0, pem.length() / 2).getBytes(StandardCharsets.UTF_8);
          case "other DER" -> Der.sequence(Der.integer(5), Der.utf8("x"));
          default -> new byte[0];
        };
    Path file = kind.equals("missing") ? folder.resolve("missing") : file(folder, "x.pem", content);
    Survey survey = survey(file);
    assertEquals(1, survey.failures().size());
    SymbolonException failure = survey.failures().get(0);
    assertEquals(
        kind.equals("missing") ? Reason.UNREADABLE : Reason.NOT_UNDERSTOOD, failure.reason());
    assertTrue(failure.statement().contains(file.toString()), failure.statement());
    assertFalse(failure.seen().isBlank());
    assertFalse(failure.remedy().advice().isBlank());
  }

  @Test
  void aFileThatHoldsNothingIsOnlyANoteInAFolder() {
    file(folder, "readme.txt", "Install before Friday.");
    pile(folder);
    Survey survey = survey(folder);
    assertTrue(survey.failures().isEmpty());
    assertEquals(Level.NOTE, finding(survey, "nothing-known").level());
  }

  @Test
  void aGigabyteOfZerosIsNotRead() throws IOException {
    Path file = folder.resolve("zeros");
    try (RandomAccessFile sparse = new RandomAccessFile(file.toFile(), "rw")) {
      sparse.setLength(1L << 30);
    }
    SymbolonException failure = survey(file).failures().get(0);
    assertTrue(failure.seen().contains("1024 MiB"), failure.seen());
  }

  @Test
  void aFolderOfThousandsOfFilesIsSurveyedOnce() throws IOException {
    Path many = Files.createDirectory(folder.resolve("many"));
    for (int i = 0; i < 2_000; i++) {
      Files.write(many.resolve("f" + i), i % 2 == 0 ? pem(issuing()) : new byte[] {'n', 'o'});
    }
    int[] told = {0};
    Survey survey = SURVEYOR.withProgress((done, total) -> told[0] = done).survey(List.of(many));
    assertEquals(2_000, told[0]);
    assertEquals(1, survey.certificates().size());
    assertEquals(1_000, survey.certificates().getOrDefault(issuing(), List.of()).size());
  }

  @Test
  void aCertificateWithADamagedPartIsAFailureOfItsFileAlone() {
    // One octet of the subject changed: its set of attributes is no set any more.
    byte[] der = INGEST.certificate().encoding();
    byte[] subject = INGEST.certificate().subject().encoding();
    int at = Collections.indexOfSubList(bytes(der), bytes(subject));
    der[at + 2] = 0x32;
    file(folder, "damaged.cer", der);
    file(folder, "good.cer", issuing().encoding());
    Survey survey = survey(folder);
    assertEquals(1, survey.failures().size());
    assertTrue(survey.failures().get(0).statement().contains("damaged.cer"));
    assertEquals(1, survey.certificates().size());
  }

  private static List<Byte> bytes(byte[] octets) {
    List<Byte> list = new ArrayList<>();
    for (byte octet : octets) {
      list.add(octet);
    }
    return list;
  }

  @Test
  void aKeyWhosePublicHalfIsAnothersIsFoundOutByTrying() {
    // SEC 1 with the scalar of one key and the public point of the other, whose certificate is
    // here.
    var stranger = io.symbolon.fixture.Lanternfish.server("x.example", KeyKind.EC_P256);
    var cursor = io.symbolon.der.Element.read(stranger.key().revealPkcs8()).cursor();
    cursor.skip();
    cursor.skip();
    var sec1 = cursor.next().octetsAsElement().cursor();
    sec1.skip();
    byte[] scalar = sec1.next().encoding();
    byte[] mixed =
        Der.sequence(
            Der.integer(1),
            scalar,
            Der.context(0, Der.oid(io.symbolon.der.Oids.P256)),
            Der.context(1, Der.bits(CATALOGUE.certificate().publicKey().keyOctets())));
    file(folder, "key", PemWriter.write("EC PRIVATE KEY", mixed));
    file(folder, "reply", pem(CATALOGUE.certificate(), issuing(), root()));
    Survey survey = survey(folder);
    assertEquals(Fit.DOES_NOT_FIT, survey.matches().get(0).fit());
    assertEquals(Level.PROBLEM, finding(survey, "key-does-not-fit").level());
  }

  @Test
  void olderFormsOfKeysAreReadFromPemAndFromDer() {
    var cursor = io.symbolon.der.Element.read(INGEST.key().revealPkcs8()).cursor();
    cursor.skip();
    cursor.skip();
    byte[] pkcs1 = cursor.next().octets();
    file(folder, "1.pem", PemWriter.write("RSA PRIVATE KEY", pkcs1));
    file(folder, "2.der", pkcs1);
    file(folder, "3.pem", PemWriter.write("CERTIFICATE", pkcs1)); // a wrong label changes nothing
    file(folder, "4.pub", INGEST.certificate().publicKey().encoding());
    file(folder, "5.cer", INGEST.certificate().encoding());
    Survey survey = survey(folder);
    assertEquals(1, survey.matches().size());
    assertEquals(3, survey.matches().get(0).keys().size());
    assertEquals("PKCS#1", survey.matches().get(0).key().form());
    assertTrue(survey.files().get(3).holdings().get(0) instanceof Holding.PublicKey);
  }

  /** The older encryption, made here with nothing but the platform. */
  @ParameterizedTest
  @ValueSource(strings = {"DES-CBC", "DES-EDE3-CBC", "AES-128-CBC", "AES-256-CBC"})
  void keysEncryptedByHeaderLinesAreOpened(String name) throws Exception {
    var cursor = io.symbolon.der.Element.read(INGEST.key().revealPkcs8()).cursor();
    cursor.skip();
    cursor.skip();
    byte[] pkcs1 = cursor.next().octets();
    boolean aes = name.startsWith("AES");
    int length = name.equals("DES-CBC") ? 8 : aes ? Integer.parseInt(name.substring(4, 7)) / 8 : 24;
    byte[] iv = Arrays.copyOf(new byte[] {9, 8, 7, 6, 5, 4, 3, 2, 1}, aes ? 16 : 8);
    var md5 = java.security.MessageDigest.getInstance("MD5");
    ByteArrayOutputStream key = new ByteArrayOutputStream();
    byte[] block = new byte[0];
    while (key.size() < length) {
      md5.update(block);
      md5.update("geheim".getBytes(StandardCharsets.UTF_8));
      block = md5.digest(Arrays.copyOf(iv, 8));
      key.writeBytes(block);
    }
    String algorithm = aes ? "AES" : length == 8 ? "DES" : "DESede";
    var cipher = javax.crypto.Cipher.getInstance(algorithm + "/CBC/PKCS5Padding");
    cipher.init(
        javax.crypto.Cipher.ENCRYPT_MODE,
        new javax.crypto.spec.SecretKeySpec(Arrays.copyOf(key.toByteArray(), length), algorithm),
        new javax.crypto.spec.IvParameterSpec(iv));
    String pem =
        new String(
                PemWriter.write("RSA PRIVATE KEY", cipher.doFinal(pkcs1)),
                StandardCharsets.US_ASCII)
            .replaceFirst(
                "\n",
                "\nProc-Type: 4,ENCRYPTED\nDEK-Info: "
                    + name
                    + ","
                    + java.util.HexFormat.of().withUpperCase().formatHex(iv)
                    + "\n\n");
    file(folder, "key.pem", pem);
    file(folder, "reply.cer", pem(INGEST.certificate(), issuing(), root()));
    Survey closed = SURVEYOR.withUnlock(List.of(secret("wrong"))).survey(List.of(folder));
    assertEquals(Reason.LOCKED, closed.failures().get(0).reason());
    Survey survey = SURVEYOR.withUnlock(List.of(secret("geheim"))).survey(List.of(folder));
    assertEquals(Fit.FITS, survey.matches().get(0).fit());
    assertEquals("PKCS#1", survey.matches().get(0).key().form());
    finding(survey, "weak-protection");
  }

  @Test
  void weaknessesAreProblems() throws Exception {
    var rsa = java.security.KeyPairGenerator.getInstance("RSA");
    rsa.initialize(1024);
    var pair = rsa.generateKeyPair();
    Certificate weak =
        io.symbolon.x509.CertificateBuilder.of(
                io.symbolon.fixture.Lanternfish.name("weak"),
                io.symbolon.key.SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(NOW, NOW.plus(Duration.ofDays(100)))
            .signSelf(pair.getPrivate(), RANDOM);
    Survey survey = survey(file(folder, "weak.pem", pem(weak)));
    assertEquals(List.of("no-alternative-names", "weak-key"), ids(survey));
  }

  @Test
  void aLargeFileThatCouldBeOursIsNamedAsTooLarge() throws IOException {
    Path file = file(folder, "large.pem", pem(root()));
    try (RandomAccessFile sparse = new RandomAccessFile(file.toFile(), "rw")) {
      sparse.setLength(100L << 20);
    }
    SymbolonException failure = survey(file).failures().get(0);
    assertEquals(Reason.LIMIT_PASSED, failure.reason());
    assertTrue(failure.seen().contains("100 MiB"), failure.seen());
  }

  @Test
  void whatFollowsACertificateInDerAndIsNoStructureIsNamed() {
    byte[] der = Arrays.copyOf(issuing().encoding(), issuing().length() + 10);
    Arrays.fill(der, issuing().length(), der.length, (byte) 7);
    Survey survey = survey(file(folder, "x.der", der));
    assertEquals(1, survey.certificates().size());
    assertTrue(survey.failures().get(0).statement().contains("byte " + issuing().length()));
  }

  @Test
  void theRootsOfJavaCompleteAChain() {
    Certificate publicRoot = SystemRoots.ofPlatform().all().stream().findFirst().orElse(root());
    file(folder, "root.pem", pem(publicRoot));
    Survey survey = Surveyor.create().withClock(Clock.systemUTC()).survey(List.of(folder));
    assertTrue(survey.otherChains().get(0).isComplete());
  }

  @Test
  void linksAndKeptVersionsAreNotCountedTwice() throws IOException {
    pile(folder);
    Files.createSymbolicLink(folder.resolve("hash.0"), folder.resolve("bundle.crt"));
    Files.createSymbolicLink(folder.resolve("loop"), folder);
    Path kept = Files.createDirectory(folder.resolve(".symbolon-undo"));
    Files.write(kept.resolve("20260101T000000.000Z_old.pem"), keyPem(CATALOGUE));
    Survey survey = survey(folder);
    assertEquals(3, survey.files().size());
    assertEquals(1, survey.matches().size());
  }

  @Test
  void textFromAFileCanNotActOnTheTerminal() {
    Certificate evil =
        io.symbolon.fixture.Lanternfish.server("evil.lanternfish.example", KeyKind.EC_P256)
            .certificate();
    assertFalse(evil.subject().toString().contains("\u001B"));
    Path file = file(folder, "a\u001B[2Jb.pem", "nothing");
    Survey survey = survey(file);
    assertFalse(survey.findings().toString().contains("\u001B"));
    assertFalse(survey.failures().get(0).toString().contains("\u001B"));
  }
}
