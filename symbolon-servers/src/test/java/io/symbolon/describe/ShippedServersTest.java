// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.configure.ServerTrial;
import io.symbolon.configure.TrialStep;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Lifetime;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** The descriptions that come with Symbolon, each on settings as its server has them. */
class ShippedServersTest {
  @TempDir Path temp;

  static Stream<String> names() {
    return new ShippedServers().servers().stream().map(Server::name);
  }

  private static ClientTrust trust(boolean lists) {
    List<RevocationList> all =
        List.of(
            ROOT.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.parse("30d")),
            ISSUING.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.parse("30d")));
    return new ClientTrust(List.of(root(), issuing()), lists ? all : List.of());
  }

  private Installation install(DescribedServer server) throws IOException {
    Path sample = Path.of("src/test/resources/described", server.name());
    try (Stream<Path> files = Files.walk(sample)) {
      for (Path file : files.toList()) {
        Path to = temp.resolve(sample.relativize(file).toString());
        if (Files.isDirectory(file)) {
          Files.createDirectories(to);
        } else {
          Files.writeString(to, Files.readString(file).replace("@HOME@", temp.toString()));
        }
      }
    }
    return server.at(Machine.here(), temp);
  }

  @ParameterizedTest
  @MethodSource("names")
  void everyModeIsReadBackAsItWasWritten(String name) throws IOException {
    DescribedServer server = DescribedServer.of(name, ShippedServers.description(name));
    assertEquals(name, server.name());
    Installation there = install(server);
    Wish wish =
        Wish.of(INGEST.withoutRoot())
            .withHosts(List.of(HostName.parse("ingest.lanternfish.example")));
    for (boolean lists : new boolean[] {false, true}) {
      if (lists && !ShippedServers.description(name).contains("lists]")) {
        continue;
      }
      List<TrialStep> steps =
          ServerTrial.run(
              server,
              Machine.here(),
              there,
              wish,
              trust(lists),
              server.modes(),
              Surveyor.create().withKnownRoots(List.of(root())),
              Clock.systemUTC());
      for (TrialStep step : steps) {
        assertTrue(
            step.isGood(),
            () ->
                name
                    + ", "
                    + step.what()
                    + ": "
                    + step.problems().stream().map(Finding::toString).toList());
        if (Boolean.getBoolean("symbolon.show")) {
          step.changes()
              .forEach(
                  change ->
                      System.out.println(
                          "== "
                              + step.what()
                              + " "
                              + change.path()
                              + "\n"
                              + (change.settings()
                                  ? new String(change.after(), StandardCharsets.UTF_8)
                                  : change.holds())));
        }
      }
      int forms = server.forms().isEmpty() ? 1 : server.forms().size() + 1; // and back again
      assertEquals((server.modes().size() + 1) * forms, steps.size());
    }
    List<TlsPlace> places = server.read(Machine.here(), there).places();
    assertTrue(places.stream().noneMatch(place -> place.mode() == Mode.MUTUAL), "as it lies there");
  }

  /** Who reads the files, and what is open beside them, is what the settings say. */
  @Test
  void theSettingsNameTheAccountAndThePortInClearText() throws IOException {
    Server broker = DescribedServer.of("mosquitto", ShippedServers.description("mosquitto"));
    Files.writeString(
        temp.resolve("mosquitto.conf"),
        "user root\nlistener 8883\ncertfile /tls/a.pem\nkeyfile /tls/a.key\n");
    TlsPlace listener =
        broker.read(Machine.here(), broker.at(Machine.here(), temp)).places().get(0);
    assertEquals("root", listener.account().orElseThrow());

    Server store = DescribedServer.of("redis", ShippedServers.description("redis"));
    Files.writeString(temp.resolve("redis.conf"), "bind 127.0.0.1\nport 6379\n");
    Installation there = store.at(Machine.here(), temp);
    Endpoint clear = new Endpoint("127.0.0.1", 6379, false);
    assertEquals(List.of(clear), store.read(Machine.here(), there).places().get(0).endpoints());
    assertTrue(
        store.propose(Machine.here(), there, Wish.of(INGEST.withoutRoot())).changes().stream()
            .filter(FileChange::settings)
            .map(change -> new String(change.after(), StandardCharsets.UTF_8))
            .allMatch(text -> text.contains("port 6379\n") && text.contains("tls-port 6380\n")));
    Files.writeString(
        temp.resolve("redis.conf"),
        "tls-port 6380\ntls-cert-file /tls/a.pem\ntls-key-file /tls/a.key\n");
    Settings read = store.read(Machine.here(), store.at(Machine.here(), temp));
    assertEquals(
        List.of(new Endpoint("", 6380, true), new Endpoint("", 6379, false)),
        read.places().get(0).endpoints());
    assertTrue(read.findings().stream().anyMatch(one -> one.kind() == FindingKind.CLEAR_TEXT_OPEN));
  }
}
