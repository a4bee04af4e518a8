// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientRole;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of PostgreSQL: which of several counts, and where a change goes. */
class ClusterSettingsTest {
  private static final Credential BUOY =
      ISSUING.issue(name("buoy-7"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
  @TempDir Path temp;
  private final Server postgresql = Servers.named("postgresql").orElseThrow();
  private final Machine machine = Machine.here();

  private static Wish wish(Mode mode) {
    return Wish.of(CATALOGUE.withoutRoot())
        .withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()))
        .withFolder(temp("tls"));
  }

  private static Path temp(String name) {
    return Path.of("/nowhere").resolve(name);
  }

  private Installation install(String main, String hba) {
    file(temp, "postgresql.conf", main);
    file(temp, "pg_hba.conf", hba);
    return postgresql.at(machine, temp);
  }

  private Map<String, String> changed(Installation there, Mode mode) {
    return changed(there, wish(mode));
  }

  private Map<String, String> changed(Installation there, Wish wish) {
    return postgresql.propose(machine, there, wish).changes().stream()
        .filter(change -> change.settings() && !change.isNothing())
        .collect(
            Collectors.toMap(
                change -> temp.relativize(change.path()).toString(),
                change -> new String(change.after(), StandardCharsets.UTF_8)));
  }

  @Test
  void whereNoFolderIsTakenInTheMainFileIsChanged() {
    Installation there =
        install("#ssl = on\nssl = off\t# not yet\nport = 5433", "local all all peer\n");
    assertEquals(
        Map.of(
            "postgresql.conf",
            """
            #ssl = on
            ssl = on\t# not yet
            port = 5433
            ssl_cert_file = '/nowhere/tls/server.pem'
            ssl_key_file = '/nowhere/tls/server.key'
            ssl_ca_file = '/nowhere/tls/server-clients.pem'
            ssl_min_protocol_version = 'TLSv1.2'
            """),
        changed(there, Mode.OPTIONAL));
  }

  @Test
  void whatCountsLastIsWhatIsChanged() throws IOException {
    Files.createDirectory(temp.resolve("conf.d"));
    file(temp, "conf.d/90-late.conf", "SSL_Cert_File = 'old.pem'\n");
    file(temp, "conf.d/.hidden.conf", "ssl = off\n");
    file(temp, "postgresql.auto.conf", "ssl_key_file = 'old.key'\n");
    Installation there =
        install("ssl = on\nssl_min_protocol_version = 'TLSv1.2'\ninclude_dir = 'conf.d'\n", "");
    assertEquals(
        Map.of(
            "conf.d/90-late.conf",
            "SSL_Cert_File = '/nowhere/tls/server.pem'\n",
            "postgresql.auto.conf",
            "ssl_key_file = '/nowhere/tls/server.key'\n",
            "conf.d/10-tls.conf",
            "ssl_ca_file = '/nowhere/tls/server-clients.pem'\n"),
        changed(there, Mode.OPTIONAL));
  }

  @Test
  void eachLineForTheNetworkAsksForACertificate() {
    String hba =
        """
        local all all peer
        host  all,archive "all" 10.0.0.0/8 \\
              scram-sha-256 # the buoys
        hostssl all all ::1/128 cert map=m
        hostnossl all all all reject
        hostssl all all 10.1.0.0/16 md5 clientcert=verify-full
        hostssl all all 10.2.0.0/16 md5 clientcert=no-verify
        """;
    Installation there = install("ssl = on\n", hba);
    assertEquals(
        hba.replace("host  all,", "hostssl  all,")
            .replace("scram-sha-256 #", "scram-sha-256 clientcert=verify-ca #")
            .replace("no-verify", "verify-ca"),
        changed(there, Mode.MUTUAL).get("pg_hba.conf"));
    assertEquals(
        hba.replace(" clientcert=verify-full", "").replace(" clientcert=no-verify", ""),
        changed(there, Mode.OPTIONAL).get("pg_hba.conf"));
    List<String> seen =
        postgresql
            .read(machine, install("ssl = on\nssl_min_protocol_version = TLSv1\n", hba))
            .findings()
            .stream()
            .map(Finding::id)
            .toList();
    assertTrue(seen.containsAll(List.of("old-protocols", "clear-text-open")), seen.toString());
  }

  @Test
  void aRoleLogsInByItsCertificateWhereOthersDoAsBefore() throws IOException {
    String hba =
        """
        local all all peer
        hostnossl all all all reject
        host all, archive all 10.0.0.0 255.0.0.0 scram-sha-256
        hostssl replication all ::1/128 md5
          hostssl all all samenet md5""";
    file(temp, "pg_ident.conf", "# none\n");
    file(temp, "PG_VERSION", "15\n");
    Installation there = install("ssl = on\n", hba);
    Wish wish = wish(Mode.OPTIONAL).withRoles(List.of(new ClientRole("buoy", BUOY.certificate())));
    Map<String, String> changed = changed(there, wish);
    String login = " cert clientname=DN map=certificates\n";
    assertEquals(
        hba.replace(
                "host all,", "hostssl all, archive buoy 10.0.0.0 255.0.0.0" + login + "host all,")
            .replace("  hostssl all", "hostssl all buoy samenet" + login + "  hostssl all"),
        changed.get("pg_hba.conf"));
    assertEquals(
        "# none\ncertificates \"" + BUOY.certificate().subject() + "\" buoy\n",
        changed.get("pg_ident.conf"));
    changed.forEach((name, text) -> file(temp, name, text));
    assertFalse(changed(there, wish).containsKey("pg_hba.conf")); // twice is once
    assertFalse(changed(there, wish).containsKey("pg_ident.conf"));
    Map<String, String> more =
        changed(
            there, wish.withRoles(List.of(new ClientRole("the \"keeper\"", INGEST.certificate()))));
    assertEquals(
        changed
            .getOrDefault("pg_hba.conf", "")
            .replaceFirst("buoy 10", "buoy,\"the \"\"keeper\"\"\" 10")
            .replaceFirst("buoy samenet", "buoy,\"the \"\"keeper\"\"\" samenet"),
        more.get("pg_hba.conf"));
    assertTrue(more.getOrDefault("pg_ident.conf", "").endsWith(" \"the \"\"keeper\"\"\"\n"));
    // Without trust in clients such a line would keep the server from starting.
    Map<String, String> back = changed(there, wish(Mode.OPTIONAL).withMode(Mode.ONE_WAY));
    assertEquals(hba, back.get("pg_hba.conf"));
    assertEquals("# none\n", back.get("pg_ident.conf"));
    file(temp, "pg_hba.conf", "hostssl all all all cert map=other\n");
    assertThrows(
        SymbolonException.class, () -> changed(there, wish(Mode.OPTIONAL).withMode(Mode.ONE_WAY)));
    assertTrue(
        postgresql.read(machine, there).findings().stream()
            .anyMatch(one -> one.statement().contains("the map other")));
  }

  @Test
  void anOldVersionKnowsClientsByTheirCommonName() throws IOException {
    file(temp, "PG_VERSION", "13\n");
    Installation there = install("ssl = on\n", "hostssl all all all md5\r\n");
    Wish wish = wish(Mode.MUTUAL).withRoles(List.of(new ClientRole("all", BUOY.certificate())));
    Map<String, String> changed = changed(there, wish);
    assertEquals(
        """
        hostssl all "all" all cert map=certificates
        hostssl all all all md5 clientcert=verify-ca
        """,
        changed.getOrDefault("pg_hba.conf", "").replace("\r\n", "\n"));
    assertFalse(changed.getOrDefault("pg_hba.conf", "").matches("(?s).*[^\r]\n.*"));
    assertEquals(
        "certificates \""
            + BUOY.certificate().subject().commonName().orElseThrow()
            + "\" \"all\"\n",
        changed.get("pg_ident.conf"));
  }
}
