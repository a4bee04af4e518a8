// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of a program on Spring Boot: what is seen in them, and what would change. */
class SpringSettingsTest {
  @TempDir Path home;
  private final Server spring = Servers.named("spring-boot").orElseThrow();
  private final Machine machine = Machine.here();

  private Wish wish(Mode mode, Path folder) {
    Wish wish =
        Wish.of(INGEST.withoutRoot())
            .withMode(mode)
            .withHosts(List.of(HostName.parse(HOST)))
            .withPort(8443)
            .withFolder(folder);
    return mode == Mode.ONE_WAY
        ? wish
        : wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()));
  }

  private Proposal propose(Mode mode) {
    return spring.propose(machine, spring.at(machine, home), wish(mode, home.resolve("tls")));
  }

  private void put(String name, String text) throws IOException {
    Files.createDirectories(home.resolve(name).getParent());
    file(home, name, text);
  }

  private Settings read() {
    return spring.read(machine, spring.at(machine, home));
  }

  private List<String> ids() {
    return read().findings().stream().map(Finding::id).sorted().toList();
  }

  private String changed(Proposal proposal) {
    FileChange change =
        proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow();
    return new String(change.after(), StandardCharsets.ISO_8859_1)
        .replace(home.resolve("tls").toString(), "TLS");
  }

  private static void write(Proposal proposal) throws IOException {
    for (FileChange change : proposal.changes()) {
      Files.createDirectories(change.path().getParent());
      Files.write(change.path(), change.after());
    }
  }

  private void jar(String version, Map<String, String> settings) throws IOException {
    try (OutputStream out = Files.newOutputStream(home.resolve("ingest.jar"));
        ZipOutputStream zip = new ZipOutputStream(out)) {
      zip.putNextEntry(new ZipEntry("BOOT-INF/lib/spring-boot-" + version + ".jar"));
      for (Map.Entry<String, String> one : settings.entrySet()) {
        zip.putNextEntry(new ZipEntry("BOOT-INF/classes/" + one.getKey()));
        zip.write(one.getValue().getBytes(StandardCharsets.UTF_8));
      }
    }
  }

  @Test
  void aBundleTakesThePlaceOfAKeystoreInYaml() throws IOException {
    put(
        "config/application.yaml",
        """
        # The ingest service.
        server:
          port: 8480
          ssl:
            keyStore: old.p12   # of last year
            key-store-password: buoy song
        """);
    assertEquals(List.of("password-in-settings"), ids());
    assertEquals(Mode.ONE_WAY, read().places().get(0).mode());
    Proposal first = propose(Mode.MUTUAL);
    assertEquals(
        """
        # The ingest service.
        server:
          port: 8443
          ssl:
            bundle: server
            client-auth: need
        spring:
          ssl:
            bundle:
              pem:
                server:
                  keystore:
                    certificate: 'TLS/ingest.lanternfish.example.pem'
                    private-key: 'TLS/ingest.lanternfish.example.key'
                    verify-keys: true
                  reload-on-update: true
                  truststore:
                    certificate: 'TLS/ingest.lanternfish.example-clients.pem'
        """,
        changed(first));
    write(first);
    assertTrue(propose(Mode.MUTUAL).isNothing());
    assertEquals(Mode.MUTUAL, read().places().get(0).mode());
    assertEquals(Optional.empty(), read().places().get(0).protocols());
    assertEquals(List.of(), ids());
    Proposal back = propose(Mode.ONE_WAY);
    assertFalse(changed(back).contains("truststore"), changed(back));
    assertFalse(changed(back).contains("client-auth"), changed(back));
  }

  @Test
  void whatIsInTheJarIsReadAndOverruledBesideIt() throws IOException {
    jar(
        "3.4.5",
        Map.of(
            "application.yaml",
            "server: {port: 8480, ssl: {client-auth: need, key-store: 'classpath:a.p12'}}"));
    assertEquals(
        List.of("value-not-known", "verify-without-trust"), ids(), read().findings().toString());
    Proposal made = propose(Mode.ONE_WAY);
    assertTrue(changed(made).startsWith("server.port=8443\nserver.ssl.bundle=server\n"));
    assertTrue(changed(made).contains("server.ssl.client-auth=none\n"), changed(made));
    write(made);
    assertEquals(Mode.ONE_WAY, read().places().get(0).mode());
    assertTrue(propose(Mode.ONE_WAY).isNothing());
    put("config/application.yml", "server: {port: 9000}");
    assertEquals(9000, read().places().get(0).endpoints().get(0).port());
    put("application-night.yaml", "server: {port: 1}");
    assertTrue(ids().contains("value-not-known"));
    jar("3.1.12", Map.of());
    assertThrows(SymbolonException.class, () -> propose(Mode.ONE_WAY));
  }

  @Test
  void valuesAreFoundWhereTheyStandFor() throws IOException {
    put("secrets/store.password", "buoy song\n");
    put(
        "application.properties",
        """
        folder = ${base:/srv}/tls
        spring.config.import=optional:configtree:secrets/
        server.ssl.bundle=web
        spring.ssl.bundle.jks.web.keystore.location=file:${folder}/a.p12
        spring.ssl.bundle.jks.web.keystore.password=${store.password}
        spring.ssl.bundle.jks.web.truststore.location=${unknown}/b.p12
        server.ssl.enabled-protocols=TLSv1.1
        management.server.port=8444
        management.server.ssl.enabled=false
        management.server.ssl.key-store=a.p12
        #---
        spring.config.activate.on-profile=night
        server.port=1
        """);
    TlsPlace place = read().places().get(0);
    assertEquals(8080, place.endpoints().get(0).port());
    assertEquals(Path.of("/srv/tls/a.p12"), place.files().get(0).path());
    assertArrays("buoy song", place.files().get(0));
    assertEquals(
        List.of(
            "clear-on-tls-port",
            "new-protocol-off",
            "old-protocols",
            "setting-ignored",
            "trust-without-verify"),
        ids());
    SymbolonException dollar =
        assertThrows(
            SymbolonException.class,
            () ->
                spring.propose(
                    machine,
                    spring.at(machine, home),
                    wish(Mode.ONE_WAY, home.resolve("${HOME}"))));
    assertTrue(dollar.seen().contains("${"), dollar.seen());
  }

  private static void assertArrays(String expected, UsedFile file) {
    assertEquals(
        expected, new String(file.password().orElseThrow().revealUtf8(), StandardCharsets.UTF_8));
  }
}
