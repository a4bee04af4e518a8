// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
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
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of Tomcat: connectors in both forms, and what stands in comments. */
class TomcatSettingsTest {
  private static final String SERVER =
      """
      <?xml version="1.0" encoding="UTF-8"?>
      <Server port="-1">
        <Service name="Catalina">
          <Connector port="8080" redirectPort="443"/>
          <!-- <Connector port="8443" SSLEnabled="true"><SSLHostConfig/></Connector> -->
          <Connector port='8443' SSLEnabled='true'>
            <SSLHostConfig certificateVerification="required"
                           caCertificateFile="conf/ca.pem"
                           protocols="TLSv1.1+TLSv1.2">
              <Certificate certificateFile="conf/a.pem" certificateKeyFile="${keys}/a.key"
                           certificateKeyPassword="${pass}"/>
            </SSLHostConfig>
          </Connector>
          <Connector port="8009" protocol="AJP/1.3"/>
        </Service>
      </Server>
      """;

  @TempDir Path temp;
  private final Server tomcat = Servers.named("tomcat").orElseThrow();
  private final Machine machine = Machine.here();

  private Installation install(String server) throws IOException {
    Path conf = Files.createDirectories(temp.resolve("base/conf"));
    Files.createDirectories(temp.resolve("base/work"));
    file(conf, "server.xml", server);
    file(conf, "catalina.properties", "keys=/keys\npass=of-17-buoys\n");
    return tomcat.at(machine, temp.resolve("base"));
  }

  private static Wish wish(Optional<Mode> mode, Optional<Integer> port, Path folder) {
    Wish wish = Wish.of(CATALOGUE.withoutRoot()).withFolder(folder);
    if (port.isPresent()) {
      wish = wish.withPort(port.get());
    }
    return mode.isEmpty()
        ? wish
        : wish.withClients(mode.get(), new ClientTrust(List.of(root(), issuing()), List.of()));
  }

  private static String settings(Proposal proposal) {
    return new String(
        proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow().after(),
        StandardCharsets.UTF_8);
  }

  @Test
  void connectorsAreReadWithWhatTheirPropertiesSay() throws IOException {
    Settings read = tomcat.read(machine, install(SERVER));
    assertEquals(List.of("8080", "8443"), read.places().stream().map(TlsPlace::name).toList());
    TlsPlace place = read.places().get(1);
    assertEquals(Mode.MUTUAL, place.mode());
    UsedFile key = place.files(FileRole.KEY).get(0);
    assertEquals("/keys/a.key", key.path().toString());
    assertEquals("of-17-buoys", new String(key.password().orElseThrow().reveal()));
    List<String> seen = read.findings().stream().map(Finding::id).distinct().toList();
    assertEquals(
        List.of(
            "clear-text-open",
            "setting-ignored",
            "verify-without-trust",
            "old-protocols",
            "password-in-settings"),
        seen);
  }

  @Test
  void aKeystoreHasBothOfItsPasswords() throws IOException {
    String keystore =
        SERVER.replaceFirst(
            "<Certificate [^>]*/>",
            "<Certificate certificateKeystoreFile=\"conf/a.jks\""
                + " certificateKeystorePassword=\"of-the-store\""
                + " certificateKeyPassword=\"\\${pass}\"/>");
    TlsPlace place = tomcat.read(machine, install(keystore)).places().get(1);
    assertEquals(
        List.of("of-the-store", "of-17-buoys"),
        place.files(FileRole.KEYSTORE).get(0).passwords().stream()
            .map(one -> new String(one.reveal()))
            .toList());
  }

  @Test
  void aConnectorOfPemGetsItsKeystoreAndKeepsTheRest() throws IOException {
    Installation there = install(SERVER);
    Path tls = temp.resolve("tls & <more>");
    Wish wish =
        wish(Optional.of(Mode.MUTUAL), Optional.empty(), tls).withProtocols(Wish.USUAL_PROTOCOLS);
    Proposal proposal = tomcat.propose(machine, there, wish);
    String after = settings(proposal);
    String escaped = tls.toString().replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
    assertTrue(after.contains("certificateKeystoreFile=\"" + escaped + "/server.p12\""), after);
    assertTrue(after.contains("protocols=\"TLSv1.2+TLSv1.3\""), after);
    for (String gone : List.of("certificateFile", "certificateKeyFile", "caCert", "${pass}")) {
      assertFalse(after.contains(gone), after);
    }
    assertEquals(SERVER.lines().limit(5).toList(), after.lines().limit(5).toList());
    assertTrue(
        after.endsWith(
            "<Connector port=\"8009\" protocol=\"AJP/1.3\"/>\n  </Service>\n</Server>\n"));
    TlsPlace place = tomcat.read(machine.with(proposal.changes()), there).places().get(1);
    assertEquals(tls.resolve("server.p12"), place.files(FileRole.KEYSTORE).get(0).path());
  }

  @Test
  void aRenewalGoesOnAskingClientsAndNothingIsMadeTwice() throws IOException {
    Installation there = install(SERVER);
    Path tls = Files.createDirectory(temp.resolve("tls"));
    Wish mutual = wish(Optional.of(Mode.MUTUAL), Optional.empty(), tls);
    for (FileChange change : tomcat.propose(machine, there, mutual).changes()) {
      Files.write(change.path(), change.after());
    }
    assertTrue(tomcat.propose(machine, there, mutual).isNothing());
    assertTrue(
        tomcat.propose(machine, there, wish(Optional.empty(), Optional.empty(), tls)).isNothing());
    Proposal more = tomcat.propose(machine, there, wish(Optional.empty(), Optional.of(9443), tls));
    assertEquals(
        List.of(Mode.CLEAR, Mode.MUTUAL, Mode.ONE_WAY),
        tomcat.read(machine.with(more.changes()), there).places().stream()
            .map(TlsPlace::mode)
            .toList());
    assertThrows(
        SymbolonException.class,
        () ->
            tomcat.propose(
                machine, there, wish(Optional.empty(), Optional.empty(), temp.resolve("a ${b}"))));
  }
}
