// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.convert.ContentPart;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.fixture.Forge;
import io.symbolon.fixture.ForgedChain;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.format.Format;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joiner;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationReason;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.KeyPair;
import java.time.Clock;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The same files are judged in the same way, whichever command reads them. */
class OneVerdictTest {
  @TempDir Path temp;

  private static Survey survey(Path folder) {
    return Surveyor.create().withClock(Clock.fixed(NOW, ZoneOffset.UTC)).survey(List.of(folder));
  }

  private static void owned(Path file) {
    try {
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Set<String> problems(Collection<Finding> findings) {
    return findings.stream()
        .filter(one -> one.level() == Level.PROBLEM)
        .map(Finding::id)
        .collect(Collectors.toCollection(TreeSet::new));
  }

  private static Set<String> converted(Survey survey) {
    return problems(
        Conversion.plan(
                survey,
                ConvertOptions.of(ContentPart.CERTIFICATE),
                Format.PEM,
                KeyForm.PKCS8,
                "x.pem")
            .findings());
  }

  @Test
  void eachDefectOfAChainIsTheSameToWhoeverSurveysJoinsAndConverts() throws Exception {
    Map<String, String> told = new TreeMap<>();
    Map<String, String> expected = new TreeMap<>();
    int joined = 0;
    for (var one : ForgedChain.defects(HOST, NOW, YEAR).entrySet()) {
      ForgedChain.Made made = ForgedChain.make(List.of(one.getValue()), HOST, NOW, YEAR);
      Path folder = Files.createDirectory(temp.resolve("chain-" + told.size()));
      List<Certificate> all = new ArrayList<>(made.shown());
      made.trust().stream().filter(root -> !all.contains(root)).forEach(all::add);
      file(folder, "chain.pem", pem(all.toArray(Certificate[]::new)));
      owned(Files.write(folder.resolve("key.pem"), made.keyPem()));
      Survey survey = survey(folder);
      Set<String> surveyed = problems(survey.findings());
      expected.put(one.getKey(), surveyed.toString());
      Set<String> both = converted(survey);
      try {
        Set<String> of =
            problems(
                Joiner.join(survey, JoinOptions.standard().with(JoinOptions.Incomplete.ACCEPTED))
                    .findings());
        joined++;
        assertTrue(surveyed.containsAll(of), one.getKey() + ": " + of + " of " + surveyed);
        both.addAll(of);
      } catch (SymbolonException e) {
        // what can't be joined is said in another way
      }
      told.put(one.getKey(), both.toString());
    }
    assertTrue(joined > 30, "many can be joined: " + joined);
    assertEquals(lines(expected), lines(told));
  }

  private static String lines(Map<String, String> all) {
    return all.entrySet().stream()
        .map(one -> one.getKey() + " | " + one.getValue())
        .collect(Collectors.joining("\n"));
  }

  @Test
  void aListThatRevokesTheLeafIsToldByAll() {
    owned(file(temp, "key.pem", keyPem(INGEST)));
    file(temp, "chain.pem", pem(INGEST.chain().toArray(Certificate[]::new)));
    file(temp, "root.pem", pem(root()));
    var list =
        ISSUING.revocationList(
            List.of(
                new Authority.Revocation(
                    INGEST.certificate().serial(), NOW, RevocationReason.KEY_COMPROMISE)),
            BigInteger.ONE,
            NOW,
            Lifetime.days(30));
    file(temp, "list.crl", list.encoding());
    Survey survey = survey(temp);
    assertEquals(Set.of("revoked"), problems(survey.findings()));
    assertEquals(
        Set.of("revoked"), problems(Joiner.join(survey, JoinOptions.standard()).findings()));
    assertEquals(Set.of("revoked"), converted(survey));
  }

  @Test
  void aServerRightBelowItsRootThatIsLeftOutIsNoProblem() {
    Credential below =
        ROOT.issue(
            name(HOST), KeyKind.EC_P256, List.of(HostName.parse(HOST)), Use.SERVER, NOW, YEAR);
    owned(file(temp, "key.pem", keyPem(below)));
    file(temp, "chain.pem", pem(below.withoutRoot().chain().toArray(Certificate[]::new)));
    assertEquals(Set.of(), problems(survey(temp).findings()));
  }

  @Test
  void aNulInANameIsAProblemToAll() throws Exception {
    byte[] algorithm = Der.sequence(Der.oid(Oids.ECDSA_SHA256));
    byte[] names =
        Der.sequence(
            Der.contextPrimitive(
                2, (HOST + "\0.other.example").getBytes(StandardCharsets.US_ASCII)));
    byte[] forged =
        Forge.signed(
            Forge.tbs(
                INGEST.certificate(), algorithm, Forge.extension(Oids.SUBJECT_ALT_NAME, names)),
            algorithm,
            "SHA256withECDSA",
            null,
            ISSUING.credential().key().toPrivateKey());
    owned(file(temp, "key.pem", keyPem(INGEST)));
    file(temp, "chain.pem", pem(Certificate.read(forged), ISSUING.certificate()));
    file(temp, "root.pem", pem(root()));
    Survey survey = survey(temp);
    Set<String> told = Set.of("name-with-control");
    assertEquals(told, problems(survey.findings()));
    assertEquals(told, problems(Joiner.join(survey, JoinOptions.standard()).findings()));
    assertEquals(told, converted(survey));
  }

  /** Who makes a root can write any key identifier into it; it stays a root to all. */
  @Test
  void aRootIsWhatSignedItselfWhateverItSaysOfItsKeys() {
    var one = KeyKind.EC_P256.generate(Lanternfish.RANDOM);
    var two = KeyKind.EC_P256.generate(Lanternfish.RANDOM);
    Certificate root = authority(one).signSelf(one.getPrivate(), Lanternfish.RANDOM);
    Certificate lies = authority(two).sign(root, two.getPrivate(), Lanternfish.RANDOM);
    Certificate link = authority(two).sign(root, one.getPrivate(), Lanternfish.RANDOM);
    assertTrue(root.isSelfSigned());
    assertTrue(lies.isSelfSigned(), "it names the key of the other one, and signed itself");
    assertTrue(link.isSelfIssued() && !link.isSelfSigned(), "a link from the one to the other");
  }

  private static CertificateBuilder authority(KeyPair pair) {
    return CertificateBuilder.of(name("Kelp Root"), SubjectPublicKeyInfo.of(pair.getPublic()))
        .validity(NOW, NOW.plus(YEAR));
  }
}
