// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.chain.Credential;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.tls.TlsSetup;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** A probe as it is typed, against the platform's own HTTPS server. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ProbeCommandTest {
  @TempDir Path folder;
  private HttpsServer server = unstarted();
  private Path trust = Path.of("");

  private static HttpsServer unstarted() {
    try {
      return HttpsServer.create();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  @BeforeEach
  void writeTrust() {
    trust = file(folder, "root.pem", pem(root()));
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private String serve(Credential credential) throws IOException {
    server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setHttpsConfigurator(new HttpsConfigurator(TlsSetup.server(credential).context()));
    server.start();
    return "127.0.0.1:" + server.getAddress().getPort();
  }

  /** A probe of the server as a client that asks for the host of ingest and trusts the root. */
  private Run probe(String address, Object... more) {
    List<Object> line = new ArrayList<>(List.of("probe", address, "--host", HOST));
    line.addAll(List.of("--trust", trust));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  @Test
  void aGoodServerIsAcceptedInTextAndInJson() throws IOException {
    String address = serve(Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing())));
    Run text = probe(address);
    assertEquals(ExitCode.DONE, text.code(), text.out() + text.err());
    for (String line :
        List.of(
            "Probed " + address + ", asked for " + HOST,
            "TLS 1.3, TLS_",
            "leads to the trust given",
            "one-way TLS",
            "issued by Lanternfish Issuing A",
            INGEST.certificate().sha256(),
            "a client with this trust accepts this server")) {
      assertTrue(text.out().contains(line), () -> line + " in " + text.out());
    }
    JsonNode json = probe(address, "--json", "--one-handshake").json();
    assertTrue(json.get("handshake").asBoolean());
    assertEquals("passed", json.get("trusted").asText());
    assertEquals("passed", json.get("hostCovered").asText());
    assertEquals(2, json.get("chain").size());
    assertEquals(issuing().sha256(), json.at("/chain/1/sha256").asText());
    assertEquals(0, json.get("findings").size());
  }

  @Test
  void theDeployedFileIsComparedAndACredentialIsNotShownWhereNobodyAsks() throws IOException {
    String address = serve(Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing())));
    Object deployed = file(folder, "deployed.pem", pem(issuing(), INGEST.certificate()));
    Object key = file(folder, "key.pem", io.symbolon.fixture.Lanternfish.keyPem(CATALOGUE));
    Object own = file(folder, "own.pem", pem(CATALOGUE.certificate(), issuing()));
    Run same =
        probe(
            address,
            "--expect",
            deployed,
            "--credential",
            key,
            "--credential",
            own,
            "--one-handshake",
            "--json");
    assertEquals(ExitCode.DONE, same.code(), same.out() + same.err());
    assertEquals(List.of("client-certificate-not-shown", "as-expected"), same.findingIds());
    assertEquals(0, same.json().get("authoritiesNamed").size());
    Run other = probe(address, "--expect", own, "--json", "--one-handshake");
    assertEquals(ExitCode.PROBLEM, other.code());
    assertEquals(List.of("not-as-expected"), other.findingIds());
    assertEquals(4, Run.of("probe", address, "--expect", trust).code());
    assertEquals(4, Run.of("probe", address, "--credential", trust).code());
  }

  @Test
  void aServerThatLacksItsIntermediateIsRefused() throws IOException {
    String address = serve(Credential.of(INGEST.key(), List.of(INGEST.certificate())));
    Run run = probe(address, "--json", "--one-handshake");
    assertEquals(ExitCode.PROBLEM, run.code());
    assertEquals(List.of("issuer-not-sent"), run.findingIds());
    assertEquals("failed", run.json().get("trusted").asText());
    Run text = probe(address);
    assertTrue(text.out().contains("will refuse this server"), text.out());
    assertTrue(text.out().contains("symbolon join"), text.out());
  }

  @Test
  void withoutTrustNothingIsCalledTrusted() throws IOException {
    String address = serve(Credential.of(CATALOGUE.key(), CATALOGUE.chain()));
    Run run = Run.of("probe", address, "--host", "catalogue.lanternfish.example");
    assertEquals(ExitCode.DONE, run.code(), run.out());
    assertTrue(run.out().contains("trust      not checked"), run.out());
    assertTrue(run.out().contains("trust was not checked"), run.out());
    Run json = Run.of("probe", address, "--host", "catalogue.lanternfish.example", "--json");
    assertEquals("not-made", json.json().get("trusted").asText());
  }

  @Test
  void trustThatHoldsNothingOrIsLockedIsRefusedBeforeTheHandshake() {
    Path empty = file(folder, "empty.pem", "");
    assertEquals(ExitCode.INPUT, Run.of("probe", "127.0.0.1:1", "--trust", empty).code());
    Path key = file(folder, "key.pem", io.symbolon.fixture.Lanternfish.keyPem(INGEST));
    assertEquals(ExitCode.INPUT, Run.of("probe", "127.0.0.1:1", "--trust", key).code());
  }

  @Test
  void whatTheServerSentIsSavedWithTheWarningThatBelongsToIt() throws IOException {
    String address = serve(Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing())));
    Path sent = folder.resolve("sent.pem");
    Run run = Run.of("probe", address, "--host", HOST, "--into", sent, "--one-handshake", "--json");
    assertEquals(ExitCode.DONE, run.code(), run.out());
    assertTrue(run.findingIds().contains("trust-on-first-use"), run.out());
    assertTrue(run.out().contains(issuing().sha256()), "the fingerprint to compare");
    assertEquals(sent.toString(), run.json().get("saved").asText());
    Run survey = Run.of("survey", sent, "--json");
    assertEquals(2, survey.json().at("/files/0/holdings").size());
    assertEquals(
        INGEST.certificate().sha256(), survey.json().at("/files/0/holdings/0/sha256").asText());
    // Nothing is replaced unless that is said, and nothing is asked of the server before.
    Run again = Run.of("probe", "127.0.0.1:1", "--into", sent);
    assertEquals(ExitCode.NOT_WRITTEN, again.code(), again.err());
    Run trusted = probe(address, "--into", sent, "--replace", "--one-handshake", "--json");
    assertEquals(List.of("sent-saved"), trusted.findingIds());
    assertEquals(ExitCode.DONE, Run.of("undo", folder).code());
    // What was saved makes a truststore.
    Path made = folder.resolve("made.p12");
    Path password = folder.resolve("made.pass");
    Run truststore = Run.of("truststore", sent, "--into", made, "--seal", "new=" + password);
    assertEquals(ExitCode.DONE, truststore.code(), truststore.err() + truststore.out());
    // It holds the intermediate that was sent, and no root: Java takes that, others do not.
    Run partial =
        Run.of(
            "probe",
            address,
            "--host",
            HOST,
            "--trust",
            made,
            "--unlock",
            "file=" + password,
            "--one-handshake",
            "--json");
    assertEquals(ExitCode.PROBLEM, partial.code(), partial.out());
    assertTrue(partial.findingIds().contains("trust-without-root"), partial.out());
  }

  @Test
  void versionsAndSuitesAreInTextAndJson() throws IOException {
    String address = serve(CATALOGUE);
    Run text =
        Run.of("probe", address, "--host", "catalogue.lanternfish.example", "--trust", trust);
    assertEquals(ExitCode.DONE, text.code(), text.out());
    for (String line :
        List.of(
            "TLS 1.3  taken, 3 cipher suites", "TLS_AES_128_GCM_SHA256", "TLS 1.1  not taken")) {
      assertTrue(text.out().contains(line), () -> line + " in " + text.out());
    }
    JsonNode json =
        Run.of("probe", address, "--host", "catalogue.lanternfish.example", "--json").json();
    // A name that TLS can't ask for is still held against the certificate.
    Run odd = Run.of("probe", address, "--host", "buoy_17.lanternfish.example", "--json");
    assertEquals(ExitCode.PROBLEM, odd.code(), odd.err());
    assertTrue(odd.findingIds().contains("host-not-covered"), odd.out());
    assertEquals(ExitCode.USAGE, Run.of("probe", address, "--host", "*.x.example").code());
    assertEquals("taken", json.at("/versions/0/answer").asText());
    assertEquals("TLS 1.3", json.at("/versions/0/version").asText());
    assertEquals("refused", json.at("/versions/4/answer").asText());
    assertTrue(json.at("/addresses/0/answers").asBoolean());
    assertTrue(json.at("/stapledStatus").isMissingNode());
  }
}
