// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayOutputStream;
import java.io.InputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The examples run as they are documented. */
class ExamplesTest {
  private interface Example {
    void run() throws Exception;
  }

  private static String output(Example example) throws Exception {
    PrintStream before = System.out;
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    System.setOut(new PrintStream(out, true, StandardCharsets.UTF_8));
    try {
      example.run();
    } finally {
      System.setOut(before);
    }
    return out.toString(StandardCharsets.UTF_8);
  }

  @Test
  void aPileIsJoinedIntoAKeystoreThatJavaOpens() throws Exception {
    String out = output(() -> JoinPile.main(new String[0]));
    assertTrue(out.startsWith("joined ingest.lanternfish.example into "), out);
    Path keystore = Path.of(out.lines().findFirst().orElseThrow().replaceAll(".* into ", ""));
    KeyStore store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(keystore)) {
      store.load(in, "only-for-the-example".toCharArray());
    }
    assertTrue(store.isKeyEntry("ingest.lanternfish.example"));
  }

  @Test
  void aKeystoreIsConverted() throws Exception {
    String out = output(() -> ConvertKeystore.main(new String[0]));
    Path chain =
        Path.of(
            out.lines()
                .filter(line -> line.endsWith("chain.pem"))
                .findFirst()
                .orElseThrow()
                .replace("wrote ", ""));
    assertTrue(Files.readString(chain).startsWith("-----BEGIN CERTIFICATE-----"));
    KeyStore store = KeyStore.getInstance("JKS");
    try (InputStream in = Files.newInputStream(chain.resolveSibling("agent.jks"))) {
      store.load(in, "only-for-the-example".toCharArray());
    }
    assertTrue(store.isKeyEntry("ingest.lanternfish.example"));
  }

  @Test
  void aRequestIsSignedAndTheCertificateRevoked() throws Exception {
    assertEquals(
        List.of(
            "wrong with the draft: 0",
            "signed: CN=ingest.lanternfish.example,O=Lanternfish Observatory"
                + " [DNS ingest.lanternfish.example, IP 192.0.2.17]",
            "issued: 1, on the revocation list: 1"),
        output(() -> AskAndSign.main(new String[0])).lines().toList());
  }

  @Test
  void aServiceOrdersAndRenewsWhileItServes() throws Exception {
    assertEquals(
        List.of(
            "serves with a certificate for [IP 127.0.0.1]",
            "renewed",
            "reload: REPLACED",
            "certificates that clients saw: 2",
            "handshakes that failed: 0",
            "on record: 3"),
        output(() -> OrderWhileServing.main(new String[0])).lines().toList());
  }

  @Test
  void aServerIsConfiguredAndPutBack() throws Exception {
    String out = output(() -> ConfigureServer.main(new String[0]));
    for (String line :
        List.of("now: clear", "buoy-017 gets in", "now: mutual", "as before: true")) {
      assertTrue(out.lines().anyMatch(line::equals), out);
    }
    assertTrue(out.contains("+") && out.contains("ssl_verify_client on;"), out);
  }

  @Test
  void aPageIsServedAndCalled() throws Exception {
    String out = output(() -> ServeAndCall.main(new String[0]));
    assertEquals("42,000 readings catalogued", out.lines().findFirst().orElseThrow());
    assertTrue(out.contains("without the right trust: "), out);
    assertTrue(out.contains("unable to find valid certification path"), out);
  }

  @Test
  void aCertificateIsReplacedWhileItIsServed() throws Exception {
    List<String> out = output(() -> ReplaceWhileServing.main(new String[0])).lines().toList();
    assertEquals("reload: REPLACED", out.get(1));
    assertTrue(!out.get(0).equals(out.get(2)), "another certificate");
    assertEquals("reload: REFUSED", out.get(3));
    assertTrue(out.get(4).contains("server.pem"), out.get(4));
    assertEquals(out.get(2), out.get(5), "the same as before");
    assertTrue(
        out.get(6).startsWith("not served: The certificate of CN=ship-2,OU=ships"), out.get(6));
    assertTrue(out.get(6).contains("refused by the rule: subject has OU=buoys"), out.get(6));
  }

  @Test
  void otherServersTakeTheNewestCertificateToo() throws Exception {
    for (Example example :
        List.<Example>of(
            () -> ServeWithNetty.main(new String[0]), () -> ServeWithVertx.main(new String[0]))) {
      List<String> out = output(example).lines().toList();
      assertTrue(out.get(0).startsWith("served with the certificate "), out.get(0));
      assertEquals("reload: REPLACED", out.get(1));
      assertFalse(out.get(0).equals(out.get(2)), "another certificate");
    }
  }

  @Test
  void aPileBecomesAServerOfMutualTls() throws Exception {
    String out = output(() -> PileToServer.main(new String[0]));
    assertTrue(out.contains("with a certificate: 204\n"), out);
    assertTrue(out.contains("without one: refused"), out);
    assertTrue(out.contains("read again: UNCHANGED\n"), out);
  }

  @Test
  void manyClientsHaveAKeystoreAndAPasswordEach(@TempDir Path folder) throws Exception {
    String out = output(() -> HundredClients.main(new String[] {folder.toString(), "20"}));
    assertTrue(out.startsWith("on record: 20, in "), out);
    Path last = folder.resolve("buoys").resolve("buoy-020.p12");
    KeyStore store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(last)) {
      store.load(in, HundredClients.password(last));
    }
    assertTrue(store.isKeyEntry("buoy-020"));
  }

  @Test
  void aDeploymentIsStoppedByValues(@TempDir Path folder) throws Exception {
    String good = output(() -> DeploymentCheck.main(new String[0]));
    assertTrue(good.endsWith("deploy\n") && !good.contains("stop "), good);
    Files.writeString(folder.resolve("notes.txt"), "the key is with the night shift");
    String bad = output(() -> assertFalse(DeploymentCheck.isGood(folder)));
    assertTrue(
        bad.endsWith(
            "stop NOT_FOUND: There is nothing to join. No private key is among the"
                + " files; they hold 0 certificates.\ndo not deploy\n"),
        bad);
  }
}
