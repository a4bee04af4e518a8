// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.finding.Finding;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.key.Fit;
import io.symbolon.seal.Secret;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Deliveries in zip archives, honest and crafted. */
class ArchiveTest {
  @TempDir Path folder;

  private static byte[] zip(Map<String, byte[]> files) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      for (Map.Entry<String, byte[]> file : files.entrySet()) {
        zip.putNextEntry(new ZipEntry(file.getKey()));
        zip.write(file.getValue());
        zip.closeEntry();
      }
    }
    return out.toByteArray();
  }

  private static Map<String, byte[]> delivery() {
    Map<String, byte[]> files = new LinkedHashMap<>();
    files.put("read me.txt", "Dear customer".getBytes(StandardCharsets.UTF_8));
    files.put("ingest/key.pem", keyPem(INGEST));
    files.put("ingest/größe.crt", pem(INGEST.certificate()));
    files.put("chain.crt", pem(issuing(), root()));
    return files;
  }

  private static Survey survey(Path... paths) {
    return Surveyor.create().survey(List.of(paths));
  }

  private static List<String> ids(Survey survey) {
    return survey.findings().stream().map(Finding::id).toList();
  }

  private static List<String> names(Survey survey, Path archive) {
    return survey.files().stream()
        .filter(one -> !one.isEmpty())
        .map(one -> archive.relativize(one.path()).toString())
        .toList();
  }

  @Test
  void whatLiesInAnArchiveIsFoundAndEachPlaceCanBeNamed() throws IOException {
    Path archive = file(folder, "delivery.zip", zip(delivery()));
    Files.setPosixFilePermissions(archive, PosixFilePermissions.fromString("rw-r--r--"));
    Survey survey = survey(archive);
    assertEquals(
        List.of("ingest/key.pem", "ingest/größe.crt", "chain.crt"), names(survey, archive));
    assertEquals(Fit.FITS, survey.matches().get(0).fit());
    assertTrue(survey.matches().get(0).chain().orElseThrow().endsInRoot());
    assertTrue(ids(survey).contains("key-readable-by-others"), "the rights of the archive count");
    Survey part = survey(archive.resolve("ingest"), archive.resolve("chain.crt"));
    assertEquals(names(survey, archive), names(part, archive));
    assertEquals(List.of("chain.crt"), names(survey(archive.resolve("chain.crt")), archive));
    Survey none = survey(archive.resolve("chain.cer"));
    assertEquals(1, none.failures().size());
    Path outer =
        file(folder, "mail.zip", zip(Map.of("a/delivery.zip", Files.readAllBytes(archive))));
    assertEquals(
        names(survey, archive), names(survey(outer), outer.resolve("a").resolve("delivery.zip")));
    try (Stream<Path> files = Files.list(folder)) {
      assertEquals(2, files.count(), "nothing is unpacked");
    }
  }

  /** Whatever the form: the octets of the archive are wiped, and what was read stays. */
  @Test
  void storesAndDerInAnArchiveAreReadAndWhatStaysLockedIsSaidInAFolderToo() throws Exception {
    Map<String, byte[]> files = new LinkedHashMap<>();
    files.put("ingest.der", INGEST.certificate().encoding());
    files.put("key.der", INGEST.key().toPrivateKey().getEncoded());
    files.put("trust.jks", PlatformStore.of("JKS", "geheim", "geheim", root()));
    Path below = Files.createDirectory(folder.resolve("sent"));
    Path archive = file(below, "all.zip", zip(files));
    try (Secret word = Lanternfish.secret("geheim")) {
      Survey survey = Surveyor.create().withUnlock(List.of(word)).survey(List.of(archive));
      assertEquals(Fit.FITS, survey.matches().get(0).fit());
      assertEquals(List.of(INGEST.certificate()), survey.matches().get(0).certificates());
      assertTrue(survey.certificates().containsKey(root()));
    }
    files.clear();
    files.put("server.p12", PlatformStore.of("PKCS12", "geheim", "geheim", root(), INGEST));
    file(below, "all.zip", zip(files));
    Survey locked = survey(below);
    assertTrue(ids(locked).contains("locked"), ids(locked).toString());
    Survey missing = survey(archive.resolve("client.p12"));
    assertTrue(missing.failures().get(0).seen().contains("no such file"));
  }

  @Test
  void namesLeadNowhereElse() throws IOException {
    Map<String, byte[]> files = new LinkedHashMap<>();
    for (String name :
        List.of("../../a.pem", "/etc/b.pem", "..\\..\\c.pem", "x/../../d.pem", "..", "C:\\e.pem")) {
      files.put(name, pem(root()));
    }
    Path archive = file(folder, "evil.zip", zip(files));
    Survey survey = survey(archive);
    assertEquals(6, survey.files().size());
    for (FileSurvey one : survey.files()) {
      assertTrue(one.path().startsWith(archive), one.path().toString());
      assertEquals(one.path(), one.path().normalize());
    }
    assertEquals(6, survey.files().stream().map(FileSurvey::path).distinct().count());
  }

  @Test
  void whatIsTooMuchIsSaidAndTheRestIsKept() throws IOException {
    byte[] empty = new byte[15 << 20];
    Map<String, byte[]> large = new LinkedHashMap<>();
    large.put("a.pem", pem(root()));
    for (int i = 0; i < 5; i++) {
      large.put("b" + i, empty);
    }
    Map<String, byte[]> many = new LinkedHashMap<>();
    many.put("a.pem", pem(root()));
    for (int i = 0; i < 2_100; i++) {
      many.put("b" + i, new byte[1]);
    }
    byte[] deep = zip(Map.of("a.pem", pem(root())));
    for (int i = 0; i < 5; i++) {
      deep = zip(Map.of("deeper.zip", deep));
    }
    Map<String, byte[]> beside = new LinkedHashMap<>();
    beside.put("a.pem", pem(root()));
    beside.put("deep.zip", deep);
    for (byte[] octets : List.of(zip(large), zip(many), zip(beside))) {
      Path archive = file(folder, "much.zip", octets);
      Survey survey = survey(archive);
      assertTrue(ids(survey).contains("limit-passed"), ids(survey).toString());
      assertEquals(1, survey.certificates().size());
      assertEquals(1, survey.failures().size());
    }
  }

  @Test
  void whatIsCutOffOrUnderAPasswordIsSaid() throws IOException {
    byte[] whole = zip(delivery());
    for (int length : new int[] {31, 60, whole.length / 2}) {
      Path archive = file(folder, "cut.zip", Arrays.copyOf(whole, length));
      Survey survey = survey(archive);
      assertTrue(!survey.failures().isEmpty(), "at " + length);
    }
    byte[] locked = whole.clone();
    locked[6] |= 1; // the flag that the first file is encrypted
    Survey survey = survey(file(folder, "locked.zip", locked));
    assertTrue(ids(survey).contains("locked"), ids(survey).toString());
  }

  @Test
  void programsThatAreArchivesAsWellAreNoNoise() throws IOException {
    Map<String, byte[]> program = new LinkedHashMap<>();
    program.put("META-INF/MANIFEST.MF", "Manifest-Version: 1.0".getBytes(StandardCharsets.UTF_8));
    program.put("Buoy.class", new byte[] {(byte) 0xCA, (byte) 0xFE, (byte) 0xBA, (byte) 0xBE});
    Path below = Files.createDirectory(folder.resolve("lib"));
    file(below, "buoy.jar", zip(program));
    file(below, "root.pem", pem(root()));
    assertEquals(List.of("nothing-known"), ids(survey(below)));
    program.put("trust/root.pem", pem(issuing()));
    file(below, "buoy.jar", zip(program));
    Survey survey = survey(below);
    assertEquals(2, survey.certificates().size());
    assertEquals(2, survey.files().size());
  }
}
