// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RehearseCommandTest {
  private static final Credential BUOY =
      ISSUING.issue(name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;
  private Path server;
  private Path trust;
  private Path buoy;

  private Path both(String name, Credential credential, Certificate... chain) {
    byte[] key = keyPem(credential);
    byte[] certificates = pem(chain);
    byte[] all = Arrays.copyOf(key, key.length + certificates.length);
    System.arraycopy(certificates, 0, all, key.length, certificates.length);
    return file(temp, name, all);
  }

  @BeforeEach
  void files() {
    server = both("server.pem", INGEST, INGEST.certificate(), issuing());
    buoy = both("buoy.pem", BUOY, BUOY.certificate(), issuing());
    trust = file(temp, "trust.pem", pem(root()));
  }

  private Run rehearse(Object... more) {
    List<Object> line = new ArrayList<>(List.of("rehearse", "--host", HOST));
    line.addAll(Arrays.asList(more));
    return Run.of(line.toArray());
  }

  @Test
  void aGoodPairIsAcceptedOneWayAndMutual() {
    Run oneWay = rehearse("--server", server, "--client-trust", trust);
    assertEquals(0, oneWay.code(), oneWay.out() + oneWay.err());
    assertTrue(oneWay.out().contains("they accept each other"), oneWay.out());
    assertTrue(oneWay.out().contains("TLS 1.2  accepted"), oneWay.out());
    Run mutual =
        rehearse(
            "--server", server, "--server-trust", trust, "--client", buoy, "--client-trust", trust);
    assertEquals(0, mutual.code(), mutual.out());
    Run none =
        rehearse("--server", server, "--server-trust", trust, "--client-trust", trust, "--json");
    assertEquals(1, none.code());
    assertTrue(none.findingIds().contains("no-client-certificate"), none.out());
    assertEquals("server", none.json().at("/pairs/0/versions/0/refusedBy").asText());
  }

  @Test
  void aFindingNamesTheFileOfTheCertificateItSpeaksOf() {
    Path key = file(temp, "server.key", keyPem(INGEST));
    Path end = file(temp, "end.cer", INGEST.certificate().encoding());
    Run run =
        Run.of(
            "rehearse",
            "--host",
            "other.lanternfish.example",
            "--server",
            key,
            end,
            file(temp, "issuing.cer", issuing().encoding()),
            "--client-trust",
            trust,
            "--json");
    List<String> places = new ArrayList<>();
    run.json()
        .get("findings")
        .forEach(
            finding -> {
              if (finding.get("id").asText().equals("host-not-covered")) {
                places.add(finding.get("where").asText());
              }
            });
    assertEquals(List.of(end.toString()), places, run.out());
  }

  @Test
  void aBlockGluedToAnotherIsToldWithTheServersThatRefuseIt() {
    byte[] glued =
        new String(pem(INGEST.certificate(), issuing()), java.nio.charset.StandardCharsets.US_ASCII)
            .replace("-----\n-----BEGIN", "----------BEGIN")
            .getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    Run run =
        rehearse(
            "--server",
            file(temp, "server.key", keyPem(INGEST)),
            file(temp, "glued.pem", glued),
            "--client-trust",
            trust,
            "--json");
    assertTrue(run.findingIds().contains("blocks-glued"), run.out());
    assertTrue(run.out().contains("blocks of the certificate file are glued together"), run.out());
  }

  @Test
  void whatOtherProgramsWouldStumbleOverIsToldAndSentAsItLies() throws IOException {
    Certificate[] thousand = new Certificate[1_000];
    Arrays.fill(thousand, issuing());
    thousand[0] = INGEST.certificate();
    Path crowd = both("crowd.pem", INGEST, thousand);
    Run many = rehearse("--server", crowd, "--client-trust", trust, "--json");
    assertEquals(1, many.code());
    assertTrue(
        many.findingIds().containsAll(List.of("too-much-sent", "chain-superfluous")), many.out());
    Path cut =
        file(temp, "cut.pem", Files.readString(server) + "-----BEGIN CERTIFICATE-----\nMIIB\n");
    Run damaged = rehearse("--server", cut, "--client-trust", trust, "--json");
    assertEquals(3, damaged.code(), "a server would refuse the file");
    assertTrue(damaged.err().contains("cut.pem"), damaged.err());
    byte[] large = new byte[16 << 20];
    System.arraycopy(
        new byte[] {0x30, (byte) 0x83, (byte) 0xFF, (byte) 0xFF, (byte) 0xFB}, 0, large, 0, 5);
    Run huge =
        rehearse(
            "--server", server, file(temp, "huge.der", large), "--client-trust", trust, "--json");
    assertTrue(huge.code() == 1 || huge.code() == 3, huge.out() + huge.err());
    assertEquals(
        2, Run.of("rehearse", "--server", server, "--host", "*.lanternfish.example").code());
    Run odd = Run.of("rehearse", "--server", server, "--host", "buoy_17.lanternfish.example");
    assertEquals(1, odd.code(), odd.out() + odd.err());
    assertTrue(Run.of("rehearse", "--server", server, "--host", "a b\u202E").code() > 1);
  }

  @Test
  void whatIsNotGivenIsSaidToBeNotChecked() {
    Run run = Run.of("rehearse", "--server", server, "--json");
    assertEquals(0, run.code(), run.out());
    assertTrue(
        run.findingIds().containsAll(List.of("trust-not-checked", "host-not-checked")), run.out());
  }

  @Test
  void aKeystoreWithoutItsIntermediateIsRefusedAndTheFileNamed() throws Exception {
    Path store =
        file(
            temp,
            "bare.p12",
            PlatformStore.of(
                "PKCS12",
                "pass word",
                "pass word",
                root(),
                Credential.of(INGEST.key(), List.of(INGEST.certificate()))));
    Path pass = file(temp, "pass", "pass word");
    Run run =
        rehearse("--server", store, "--client-trust", trust, "--unlock", "file=" + pass, "--json");
    assertEquals(1, run.code());
    JsonNode first = run.json().at("/pairs/0/findings/0");
    assertEquals("issuer-not-sent", first.get("id").asText());
    assertTrue(first.get("where").asText().contains("bare.p12"), first.toString());
    // A client that brings the intermediate is served, and that others are not is said.
    Path rich = file(temp, "rich.pem", pem(root(), issuing()));
    Run helped =
        rehearse("--server", store, "--client-trust", rich, "--unlock", "file=" + pass, "--json");
    assertTrue(helped.findingIds().contains("client-brings-intermediate"), helped.out());
    assertTrue(helped.json().at("/pairs/0/accepted").asBoolean());
  }

  @Test
  void aTruststoreThatJavaReadsDifferentlyIsTold() throws Exception {
    Run holdsKey = rehearse("--server", server, "--client-trust", server, "--json");
    assertTrue(holdsKey.findingIds().contains("trust-holds-key"), holdsKey.out());
    // A PKCS#12 of certificates without Java's mark of trust: Java trusts none of them.
    Path pass = file(temp, "pass", "pass word");
    Path store = temp.resolve("plain.p12");
    assertEquals(
        0, Run.of("join", server, trust, "--into", store, "--seal", "file=" + pass).code());
    Run run =
        rehearse("--server", server, "--client-trust", store, "--unlock", "file=" + pass, "--json");
    assertTrue(run.findingIds().contains("trust-holds-key"), run.out());
    KeyStore empty = KeyStore.getInstance("PKCS12");
    empty.load(null, null);
    Path nobody = temp.resolve("empty.p12");
    try (var out = Files.newOutputStream(nobody)) {
      empty.store(out, "pass word".toCharArray());
    }
    Run none =
        rehearse(
            "--server", server, "--client-trust", nobody, "--unlock", "file=" + pass, "--json");
    assertEquals(1, none.code());
    assertTrue(none.findingIds().contains("trust-empty"), none.out());
  }

  @Test
  void everyPairIsRehearsedWhereThereAreSeveral() {
    Path second = both("second.pem", CATALOGUE, CATALOGUE.certificate(), issuing());
    Run run =
        rehearse(
            "--server",
            server,
            second,
            "--server-trust",
            trust,
            "--client",
            buoy,
            "--client-trust",
            trust);
    assertEquals(1, run.code());
    assertTrue(run.out().contains("1 of 2 pairs accept each other"), run.out());
    assertTrue(run.out().contains("host-not-covered"), run.out());
  }

  @ParameterizedTest
  @CsvSource({
    "2090-01-01, 1, expired",
    "1999-01-01T00:00:00Z, 1, not-yet-valid",
    "tomorrow, 2, not a date",
    "2026-13-01, 2, not a date",
  })
  void anotherDayCanBeRehearsed(String at, int code, String told) {
    Run run = rehearse("--server", server, "--client-trust", trust, "--at", at);
    assertEquals(code, run.code(), run.out());
    assertTrue((run.out() + run.err()).contains(told), run.out() + run.err());
  }

  @Test
  void aLineThatIsWrongIsToldWhy() {
    assertEquals(2, Run.of("rehearse").code());
    assertEquals(2, Run.of("rehearse", "--server", server, "--host", "*.x.example").code());
    assertEquals(2, Run.of("rehearse", "--server", server, "--host", "a b").code());
    assertEquals(4, Run.of("rehearse", "--server", trust).code());
    assertEquals(3, Run.of("rehearse", "--server", temp.resolve("absent")).code());
  }

  @Test
  void aRevokedClientAmongSeveralIsNoPairThatIsAccepted() throws Exception {
    String pass = "new=" + temp.resolve("root.pass");
    String unlock = "file=" + temp.resolve("root.pass");
    Path authority = temp.resolve("root");
    Run.of("authority", "found", authority, "--subject", "CN=Root", "--seal", pass);
    for (String name : List.of("shore", "buoy-1", "buoy-2")) {
      Run issued =
          Run.of(
              "authority",
              "issue",
              "--by",
              authority,
              "--unlock",
              unlock,
              "--subject",
              "CN=" + name,
              "--for",
              "both",
              "--host",
              HOST,
              "--unsealed",
              "--into",
              temp.resolve(name + ".pem"));
      assertEquals(0, issued.code(), issued.err());
    }
    Run.of("authority", "revoke", "buoy-2", "--by", authority, "--unlock", unlock);
    Path root = authority.resolve("authority.pem");
    Object[] line = {
      "--server",
      temp.resolve("shore.pem"),
      "--server-trust",
      root,
      authority.resolve("revocations.pem"),
      "--client",
      temp.resolve("buoy-1.pem"),
      temp.resolve("buoy-2.pem"),
      "--client-trust",
      root
    };
    Run text = rehearse(line);
    assertEquals(1, text.code(), text.out());
    assertTrue(text.out().contains("1 of 2 pairs accept each other"), text.out());
    assertTrue(text.out().contains("revoked"), text.out());
    Object[] more = Arrays.copyOf(line, line.length + 1);
    more[line.length] = "--json";
    Run json = rehearse(more);
    assertEquals(1, json.code());
    List<Boolean> accepted = new ArrayList<>();
    json.json().get("pairs").forEach(pair -> accepted.add(pair.get("accepted").asBoolean()));
    assertEquals(List.of(true, false), accepted, json.out());
  }

  @Test
  void theTruststoreThatIsNamedIsThatOfTheSideThatRefuses() {
    Certificate stranger =
        io.symbolon.issue.Authority.root(
                name("Stranger"),
                KeyKind.EC_P256,
                NOW,
                YEAR,
                io.symbolon.fixture.Lanternfish.RANDOM)
            .certificate();
    Path clients = file(temp, "clienttrust.pem", pem(stranger));
    Path servers = file(temp, "srvtrust.pem", pem(root()));
    Run run =
        rehearse(
            "--server-trust",
            servers,
            "--server",
            server,
            "--client-trust",
            clients,
            "--client",
            buoy,
            "--json");
    assertEquals(1, run.code(), run.out());
    JsonNode refused = null;
    for (JsonNode finding : run.json().get("findings")) {
      refused = finding.get("id").asText().equals("root-not-trusted") ? finding : refused;
    }
    assertTrue(refused != null, run.out());
    String remedy = String.valueOf(refused == null ? "" : refused.get("remedy").asText());
    assertTrue(remedy.contains("--into " + clients), remedy);
    assertTrue(remedy.contains("the trust of the client"), remedy);
  }

  @Test
  void aServerThatOnlyAsksLetsAClientWithoutCertificateIn() {
    Object[] required = {
      "rehearse",
      "--server",
      temp.resolve("server.key"),
      temp.resolve("server.crt"),
      "--server-trust",
      temp.resolve("root.pem"),
      "--client-trust",
      temp.resolve("root.pem"),
      "--host",
      HOST,
      "--json"
    };
    file(temp, "server.key", keyPem(INGEST));
    file(temp, "server.crt", pem(INGEST.certificate(), issuing()));
    file(temp, "root.pem", pem(root()));
    assertEquals(1, Run.of(required).code());
    Object[] optional = Arrays.copyOf(required, required.length + 2);
    optional[required.length] = "--clients";
    optional[required.length + 1] = "optional";
    assertEquals(0, Run.of(optional).code(), Run.of(optional).out());
    optional[required.length + 1] = "sometimes";
    assertEquals(2, Run.of(optional).code());
  }
}
