// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

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
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** OpenLDAP's settings as its folder keeps them, and the change that it would be told. */
class LdapSettingsTest {
  private static final String START =
      """
      # AUTO-GENERATED FILE - DO NOT EDIT!! Use ldapmodify.
      dn: cn=config
      objectClass: olcGlobal
      entryUUID: 0017b0f7-0000-1041-9b1d-000000000017
      """;

  @TempDir Path home;
  private final Machine machine = Machine.here();
  private final Server openldap = Servers.named("openldap").orElseThrow();

  @BeforeEach
  void folders() throws Exception {
    Files.createDirectories(home.resolve("ldap/slapd.d"));
    Files.createDirectories(home.resolve("default"));
    file(
        home, "default/slapd", "# none\nSLAPD_SERVICES=\"ldap://[::1]/ ldaps:/// ldapi://%2Fa\"\n");
  }

  private Installation install(String entry) {
    file(home, "ldap/slapd.d/cn=config.ldif", START + entry);
    return openldap.at(machine, home.resolve("ldap"));
  }

  private Wish wish(Mode mode, Path folder) {
    Wish wish = Wish.of(INGEST.withoutRoot()).withFolder(folder);
    return mode.asksClients()
        ? wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()))
        : wish.withMode(mode);
  }

  @Test
  void linesThatGoOnAndValuesInBase64AreRead() {
    String path =
        Base64.getEncoder().encodeToString("/srv/schlüssel.key".getBytes(StandardCharsets.UTF_8));
    Settings settings =
        openldap.read(
            machine,
            install(
                "olcTLSCertificateFile: /srv/a\n bc.pem\nolctlscertificatekeyfile:: "
                    + path
                    + "\nolcTLSVerifyClient: allow\nolcTLSProtocolMin: 3.3\n"));
    TlsPlace place = settings.places().get(0);
    assertEquals(
        List.of(Path.of("/srv/abc.pem"), Path.of("/srv/schlüssel.key")),
        place.files().stream().map(UsedFile::path).toList());
    assertEquals(Mode.OPTIONAL, place.mode());
    assertEquals("TLSv1.2 and newer", place.protocols().orElseThrow());
    assertEquals(List.of(new Endpoint("", 636, true)), place.endpoints());
    assertEquals(
        List.of("verify-without-trust", "setting-ignored"),
        settings.findings().stream().map(Finding::id).toList());
  }

  @Test
  void certificateAndKeyAreOneChangeAndItsOppositePutsInWhatWas() {
    Installation installation =
        install(
            """
            olcTLSCertificateFile: /srv/a.pem
            olcTLSCertificateKeyFile: /srv/a.key
            olcTLSCipherSuite: SECURE256:-VERS-TLS1.0:%SERVER_PRECEDENCE
            """);
    Path folder = home.resolve("tls of\nthe relay é");
    Proposal proposal =
        openldap.propose(
            machine, installation, wish(Mode.MUTUAL, folder).withProtocols(Wish.USUAL_PROTOCOLS));
    assertTrue(proposal.changes().stream().noneMatch(FileChange::settings));
    ServerCommand change = proposal.steps().get(1).command();
    assertEquals(List.of("dn: cn=config", "changetype: modify"), change.input().subList(0, 2));
    assertTrue(change.input().contains("olcTLSVerifyClient: demand"));
    if (Files.exists(Path.of("/etc/debian_version"))) {
      assertTrue(
          change
              .input()
              .contains(
                  "olcTLSCipherSuite:"
                      + " SECURE256:%SERVER_PRECEDENCE:-VERS-ALL:+VERS-TLS1.2:+VERS-TLS1.3"));
    }
    assertTrue(
        change.input().stream().noneMatch(line -> line.indexOf('\n') >= 0 || line.contains("é")),
        "what is no plain line is encoded");
    assertTrue(
        change.input().stream().anyMatch(line -> line.startsWith("olcTLSCertificateFile:: ")));
    List<String> back = proposal.steps().get(1).back().orElseThrow().input();
    assertTrue(back.contains("olcTLSCertificateFile: /srv/a.pem"), back.toString());
    int second = back.lastIndexOf("dn: cn=config");
    assertTrue(second > 0 && back.indexOf("replace: olcTLSVerifyClient") > second);
    // What the server will have is read back like a file.
    TlsPlace after = openldap.read(machine.with(proposal.view()), installation).places().get(0);
    assertEquals(Mode.MUTUAL, after.mode());
    assertEquals(folder.resolve("server.pem"), after.files(FileRole.CERTIFICATE).get(0).path());
    assertTrue(
        openldap
            .propose(machine.with(proposal.view()), installation, wish(Mode.MUTUAL, folder))
            .isNothing());
  }

  @Test
  void whatItCanNotDoIsRefusedBefore() {
    Installation installation = install("");
    Path folder = home.resolve("tls");
    assertThrows(
        SymbolonException.class,
        () -> openldap.propose(machine, installation, wish(Mode.ONE_WAY, folder).withPort(637)));
    assertFalse(
        openldap
            .propose(machine, installation, wish(Mode.ONE_WAY, folder).withPort(636))
            .isNothing());
    file(home, "default/slapd", "SLAPD_SERVICES='ldap:///'\n");
    assertThrows(
        SymbolonException.class,
        () -> openldap.propose(machine, installation, wish(Mode.ONE_WAY, folder)));
    assertThrows(
        SymbolonException.class,
        () -> openldap.read(machine, install("olcTLSCertificateFile:: %%%\n")));
    assertThrows(SymbolonException.class, () -> openldap.at(machine, home.resolve("default")));
  }
}
