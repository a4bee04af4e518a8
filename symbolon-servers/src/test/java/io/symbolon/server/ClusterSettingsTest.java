// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.finding.Finding;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of PostgreSQL: which of several counts, and where a change goes. */
class ClusterSettingsTest {
  @TempDir Path temp;
  private final Server postgresql = Servers.named("postgresql").orElseThrow();
  private final Machine machine = Machine.here();

  private static Wish wish(Mode mode) {
    return new Wish(
        List.of(CATALOGUE.withoutRoot()),
        Optional.of(new ClientTrust(List.of(root(), issuing()), List.of())),
        Optional.of(mode),
        List.of(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Wish.USUAL_PROTOCOLS,
        Optional.empty(),
        Optional.of(temp("tls")),
        Optional.empty(),
        Optional.empty());
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
    return postgresql.propose(machine, there, wish(mode)).changes().stream()
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
}
