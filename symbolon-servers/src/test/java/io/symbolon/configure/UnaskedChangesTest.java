// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.Keystores;
import io.symbolon.chain.Credential;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.seal.Secret;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The whole server is compared as it is and as it would be; what was not asked for stops it. */
class UnaskedChangesTest {
  private static final String HOST = Lanternfish.HOST;
  private static final Credential EC = Lanternfish.server(HOST, KeyKind.EC_P256).withoutRoot();
  private static final Credential RSA = Lanternfish.server(HOST, KeyKind.RSA_2048).withoutRoot();

  @TempDir Path temp;

  private Wish wish() {
    return Wish.of(EC).withHosts(List.of(HostName.parse(HOST)));
  }

  private ServerChange plan(String name, Wish wish) {
    Server server = Servers.named(name).orElseThrow();
    Machine machine = Machine.at(Path.of("/"));
    return ServerTls.of(
            server, machine, server.at(machine, temp), Surveyor.create(), Clock.systemUTC())
        .plan(wish, List.of());
  }

  /** What is said of changes that nobody asked for. */
  private List<String> unasked(String name, Wish wish) {
    return plan(name, wish).findings().stream()
        .filter(finding -> finding.is(FindingKind.CHANGES_MORE))
        .map(finding -> finding.statement().replace(temp.toString(), ""))
        .toList();
  }

  private void put(String file, String text) throws IOException {
    Path path = temp.resolve(file);
    Files.createDirectories(path.getParent());
    Files.writeString(path, text);
  }

  private void pair(String name, Credential credential) throws IOException {
    Files.createDirectories(temp.resolve("tls"));
    Files.write(temp.resolve("tls/" + name + ".pem"), Lanternfish.pem(credential.certificate()));
    Files.write(temp.resolve("tls/" + name + ".key"), Lanternfish.keyPem(credential));
  }

  private static String site(String words, String name, String file) {
    return "server { listen "
        + words
        + "; server_name "
        + name
        + "; ssl_certificate tls/"
        + file
        + ".pem; ssl_certificate_key tls/"
        + file
        + ".key; }\n";
  }

  @Test
  void theDefaultSiteDecidesForOthersAndIsNotChangedUnseen() throws IOException {
    pair("a", EC);
    put(
        "nginx.conf",
        "events {}\nhttp {\n"
            + site("8443 ssl", HOST, "a")
            + site("8443 ssl", "b.lanternfish.example", "a")
            + "}\n");
    Wish older = wish().withPort(8443).withSite(HOST).withProtocols(Wish.USUAL_PROTOCOLS);
    List<String> said = unasked("nginx", older);
    assertEquals(1, said.size(), said.toString());
    assertTrue(said.get(0).startsWith("b.lanternfish.example, another place"), said.get(0));
    assertTrue(said.get(0).contains("protocol versions would change"), said.get(0));
    assertEquals(
        List.of(), unasked("nginx", older.withMayChange(List.of("b.lanternfish.example"))));
    assertEquals(List.of(), unasked("nginx", wish().withPort(8443).withSite(HOST)), "a renewal");
  }

  @Test
  void anAddressThatBeginsToSpeakTlsForAnotherSiteIsSeen() throws IOException {
    put(
        "nginx.conf",
        "events {}\nhttp {\nserver { listen 8080; server_name "
            + HOST
            + "; }\nserver { listen 8080; server_name b.lanternfish.example; }\n}\n");
    List<String> said = unasked("nginx", wish().withSite(HOST).withPort(8080));
    assertTrue(
        said.stream().anyMatch(one -> one.contains("its addresses would change from *:8080 in")),
        said.toString());
  }

  @Test
  void aSecondCertificateIsNotDroppedInSilence() throws IOException {
    pair("rsa", RSA);
    pair("ec", EC);
    put(
        "nginx.conf",
        "events {}\nhttp {\nserver { listen 8443 ssl; server_name "
            + HOST
            + "; ssl_certificate tls/rsa.pem; ssl_certificate_key tls/rsa.key;\n"
            + "ssl_certificate tls/ec.pem; ssl_certificate_key tls/ec.key; }\n}\n");
    List<String> said = unasked("nginx", wish());
    assertEquals(1, said.size(), said.toString());
    assertTrue(said.get(0).contains("it shows 2 certificates, and would show 1"), said.get(0));
    assertTrue(said.get(0).contains("(RSA"), said.get(0));
    assertEquals(List.of(), unasked("nginx", wish().withCredentials(List.of(EC, RSA))));
    assertEquals(List.of(), unasked("nginx", wish().withMayChange(List.of(HOST))), "it was said");
  }

  @Test
  void aSettingsFileOfNginxWithTwoPlacesOfOneNameChangesAndJudgesTheRightOne() throws IOException {
    pair("a", EC);
    put(
        "nginx.conf",
        "events {}\nhttp {\n" + site("8443 ssl", HOST, "a") + site("9443 ssl", HOST, "a") + "}\n");
    Wish mutual =
        wish()
            .withPort(9443)
            .withClients(Mode.MUTUAL, new ClientTrust(List.of(Lanternfish.root()), List.of()));
    ServerChange change = plan("nginx", mutual.withFolder(temp.resolve("new")));
    assertFalse(change.isRefused(), change.findings().toString());
    assertEquals(9443, change.place().place().endpoints().get(0).port());
    assertEquals(Mode.MUTUAL, change.place().place().mode());
  }

  @Test
  void aKeystoreThatAnotherConnectorShowsIsNotReplacedUnseen() throws IOException {
    String store = "conf/tls/" + HOST;
    Files.createDirectories(temp.resolve("conf/tls"));
    try (Secret password = Secret.of("buoy-and-beacon".toCharArray(), "test")) {
      Files.write(
          temp.resolve(store + ".p12"),
          Keystores.pkcs12(RSA, "web", password, Pkcs12Strength.STRONG));
    }
    put(store + ".pass", "buoy-and-beacon\n");
    String connector =
        "<Connector port='%d' SSLEnabled='true'><SSLHostConfig protocols='TLSv1.3'><Certificate"
            + " certificateKeystoreFile='%s.p12' certificateKeystorePasswordFile='%s.pass'/>"
            + "</SSLHostConfig></Connector>";
    put(
        "conf/server.xml",
        "<Server><Service name='Catalina'>"
            + connector.formatted(8443, store, store)
            + connector.formatted(9443, store, store)
            + "</Service></Server>");
    Wish at = wish().withSite("8443").withFolder(temp.resolve("conf/tls"));
    List<String> said = unasked("tomcat", at);
    assertEquals(1, said.size(), said.toString());
    assertTrue(said.get(0).startsWith("9443, another place of this server: what it shows"));
    assertEquals(List.of(), unasked("tomcat", at.withFolder(temp.resolve("other"))));
    assertEquals(List.of(), unasked("tomcat", at.withMayChange(List.of("9443"))));
  }

  @Test
  void trustThatTheManagementPortSharesIsNotReplacedUnseen() throws IOException {
    pair(HOST, EC);
    Files.write(
        temp.resolve("tls/" + HOST + "-clients.pem"), Lanternfish.pem(Lanternfish.issuing()));
    put(
        "application.properties",
        """
        server.port=8443
        server.ssl.bundle=server
        management.server.port=9443
        management.server.ssl.bundle=management
        management.server.ssl.client-auth=need
        spring.ssl.bundle.pem.server.keystore.certificate=tls/HOST.pem
        spring.ssl.bundle.pem.server.keystore.private-key=tls/HOST.key
        spring.ssl.bundle.pem.management.keystore.certificate=tls/HOST.pem
        spring.ssl.bundle.pem.management.keystore.private-key=tls/HOST.key
        spring.ssl.bundle.pem.management.truststore.certificate=tls/HOST-clients.pem
        """
            .replace("HOST", HOST));
    Wish mutual =
        wish()
            .withClients(Mode.MUTUAL, new ClientTrust(List.of(Lanternfish.root()), List.of()))
            .withFolder(temp.resolve("tls"));
    List<String> said = unasked("spring-boot", mutual);
    assertTrue(
        said.stream().anyMatch(one -> one.startsWith("management, another place")),
        said.toString());
    assertEquals(List.of(), unasked("spring-boot", mutual.withFolder(temp.resolve("web"))));
  }

  @Test
  void ofTwoBindLinesOfASectionTheOneThatIsMeantIsJudged() throws IOException {
    Files.createDirectories(temp.resolve("tls"));
    Path old = temp.resolve("tls/old.pem");
    Files.write(old, Lanternfish.keyPem(EC));
    Files.write(old, Lanternfish.pem(EC.certificate()), StandardOpenOption.APPEND);
    put(
        "haproxy.cfg",
        """
        frontend web
          bind :8443 ssl crt tls/old.pem ssl-min-ver TLSv1.3
          bind :9443 ssl crt tls/old.pem
          default_backend x
        backend x
        """);
    ServerChange change = plan("haproxy", wish().withPort(8443).withFolder(temp.resolve("new")));
    assertFalse(change.isRefused(), change.findings().toString());
    assertEquals(8443, change.place().place().endpoints().get(0).port());
    assertEquals("TLSv1.3 and newer", change.place().place().protocols().orElseThrow());
  }

  @Test
  void onePlaceIsShownAloneWithWhatIsSaidOfIt() throws IOException {
    put(
        "nginx.conf",
        "events {}\nhttp {\n"
            + site("8443 ssl", HOST, "nowhere")
            + site("9443 ssl", "b.lanternfish.example", "nowhere")
            + "}\n");
    Server nginx = Servers.named("nginx").orElseThrow();
    Machine machine = Machine.at(Path.of("/"));
    ServerTls tls =
        ServerTls.of(nginx, machine, nginx.at(machine, temp), Surveyor.create(), Clock.systemUTC());
    ServerReport one = tls.read("b.lanternfish.example");
    assertEquals(1, one.places().size());
    assertFalse(one.allFindings().isEmpty());
    assertTrue(
        one.allFindings().stream().allMatch(finding -> finding.where().endsWith("nginx.conf:4")),
        one.allFindings().toString());
    assertEquals(2, tls.read().places().size());
  }

  /** A port that is open and that no site is for is taken by the site that is wanted for it. */
  @Test
  void aPortOfTheMainServerIsTakenOver() throws IOException {
    put(
        "apache2.conf",
        """
        LoadModule ssl_module mod_ssl.so
        LoadModule socache_shmcb_module mod_socache_shmcb.so
        Listen 8080
        Listen 8443
        <VirtualHost *:8080>
          ServerName HOST
        </VirtualHost>
        """
            .replace("HOST", HOST));
    assertEquals(List.of(), unasked("httpd", wish().withPort(8443)));
  }

  /** What is proposed means one place, and is one word. */
  @Test
  void whatIsProposedMeansThePlaceAlone() throws IOException {
    pair("a", EC);
    put(
        "nginx.conf",
        "events {}\nhttp {\n"
            + site("8443 ssl", HOST, "a")
            + site("8443 ssl", "b.lanternfish.example", "a")
            + site("8443 ssl", "b.lanternfish.example", "a")
            + "}\n");
    Wish newer = wish().withSite(HOST).withProtocols(List.of(ProtocolVersion.TLS_1_3));
    assertEquals(2, unasked("nginx", newer).size());
    assertEquals(
        List.of(), unasked("nginx", newer.withMayChange(List.of("nginx.conf:4", "nginx.conf:5"))));
  }
}
