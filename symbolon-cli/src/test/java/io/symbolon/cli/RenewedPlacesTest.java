// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * From the authority to what clients see: a server that was given an ordered certificate shows each
 * renewed one, or the renewal says that it does not.
 */
class RenewedPlacesTest {
  private static final String INGEST = "ingest.lanternfish.example";
  private static final String ARCHIVE = "archive.lanternfish.example";

  @TempDir Path temp;
  private ServedAuthority authority;
  private Path account;
  private Path into;

  @BeforeEach
  void serve() throws IOException {
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwx--x--x"));
    authority = new ServedAuthority(temp, INGEST, ARCHIVE);
    account = temp.resolve("account");
    into = account.resolve(INGEST + ".pem");
  }

  @AfterEach
  void stop() {
    authority.close();
  }

  /** The fingerprint of what a client of the running server is shown. */
  private static String shown(int port, String host, Object... more) {
    List<Object> line = new ArrayList<>(List.of("probe", "127.0.0.1:" + port, "--host", host));
    line.addAll(List.of("--one-handshake", "--json"));
    line.addAll(List.of(more));
    return Run.of(line.toArray()).json().at("/chain/0/sha256").asText();
  }

  private JsonNode renewed(int code, Object... more) {
    List<Object> line = new ArrayList<>(List.of("renew", "--account", account, "--json"));
    line.addAll(List.of(more));
    return Run.of(line.toArray()).expect(code).json();
  }

  private Run configure(Path home, Object... more) {
    List<Object> line = new ArrayList<>(List.of("configure", "nginx", "--home", home));
    line.addAll(List.of("--credential", into, "--write", "--reload"));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  @Test
  void threeCommandsGiveTwoServersMutualTlsThatRenewsItself() throws Exception {
    int tls = FreePort.take();
    try (ConfiguredServers.Running nginx =
            ConfiguredServers.nginx(Files.createDirectory(temp.resolve("nginx")));
        ConfiguredServers.Running postgres =
            ConfiguredServers.postgres(Files.createDirectory(temp.resolve("pg")))) {
      List<String> page = commands();
      assertEquals(3, page.size());
      long options =
          page.stream()
              .flatMap(one -> Stream.of(one.split(" ", -1)))
              .filter(word -> word.startsWith("--"))
              .count();
      assertTrue(options <= 12, options + " options");
      Run first = run(page.get(0), "--home", nginx.home(), "--port", tls, "--agree").expect(0);
      assertTrue(first.out().contains("shows it"), first.out());
      run(page.get(1), "--home", postgres.home()).expect(0);
      run(page.get(2)).expect(0);
      Object[] start = {"--start-with", "postgresql"};
      String one = shown(tls, INGEST);
      String two = shown(postgres.port(), ARCHIVE, start);

      JsonNode all = renewed(0, "--within", "1000d");
      assertEquals(List.of("renewed", "renewed"), outcomes(all));
      assertNotEquals(one, shown(tls, INGEST));
      assertNotEquals(two, shown(postgres.port(), ARCHIVE, start));
      for (Object[] place :
          new Object[][] {{"nginx", nginx.home()}, {"postgresql", postgres.home()}}) {
        JsonNode read = Run.of("configure", place[0], "--home", place[1], "--json").json();
        assertTrue(read.findValuesAsText("mode").contains("mutual"), read.toString());
      }
      for (String name : List.of(INGEST, ARCHIVE)) {
        JsonNode stored =
            new ObjectMapper().readTree(account.resolve(name + ".places.json").toFile());
        Schemas.check("stored-places", stored);
        assertFalse(stored.toString().contains("--"), stored.toString());
      }
      JsonNode quiet = renewed(0);
      assertEquals(List.of("not-due", "not-due"), outcomes(quiet));
      assertEquals(List.of("shown", "shown"), quiet.findValuesAsText("state"));
      assertEquals("", Run.of("renew", "--account", account).expect(0).out());
    }
  }

  /** The three commands of the page. */
  private static List<String> commands() throws IOException {
    return Files.readString(Path.of("..", "docs", "automatic.md"))
        .split("## From the authority to what clients see", -1)[1]
        .split("## ", -1)[0]
        .lines()
        .filter(line -> line.startsWith("    symbolon "))
        .map(String::strip)
        .limit(3)
        .toList();
  }

  /** A command of the page, with what differs here. */
  private Run run(String command, Object... more) {
    List<Object> line = new ArrayList<>();
    for (String word : command.substring("symbolon ".length()).split(" ", -1)) {
      line.add(
          switch (word) {
            case "https://authority.lanternfish.example:8443/directory" ->
                "https://127.0.0.1:" + authority.port() + "/directory";
            case "root.pem" -> authority.root().toString();
            case "account" -> account.toString();
            default -> word;
          });
    }
    if (line.get(0).equals("order")) {
      line.addAll(List.of("--proof", "listen=127.0.0.1:" + authority.httpPort()));
    }
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  private static List<String> outcomes(JsonNode renewed) {
    return renewed.get("certificates").findValuesAsText("outcome");
  }

  @Test
  void aServerThatIsNotSeenToShowItIsToldAndTriedAgainByTheNext() throws Exception {
    Path home = Files.createDirectory(temp.resolve("nginx"));
    int tls = FreePort.take();
    String first;
    try (ConfiguredServers.Running running = ConfiguredServers.nginx(home)) {
      authority.order(account, "--host", INGEST, "--into", into, "--unsealed", "--agree").expect(0);
      Run told =
          authority.order(
              account,
              "--host",
              INGEST,
              "--into",
              into,
              "--unsealed",
              "--reload",
              "nginx",
              "--home",
              home);
      assertEquals(1, told.code(), told.out());
      assertTrue(told.out().contains("name none of them"), told.out());
      Run given = configure(home, "--port", tls).expect(0);
      assertTrue(given.out().contains("symbolon renew gives this server"), given.out());
      first = shown(tls, INGEST);
      assertEquals(1, running.port() > 0 ? 1 : 0);
    }
    JsonNode missed = renewed(1, "--within", "1000d"); // the server is down
    assertEquals(List.of("not-shown"), outcomes(missed));
    assertEquals(List.of("renewal-not-shown"), missed.get("findings").findValuesAsText("id"));
    authority.close(); // nothing is due: that stops nobody
    assertEquals(List.of("not-shown"), outcomes(renewed(1)));
    ConfiguredServers.call(List.of("/usr/sbin/nginx", "-c", home.resolve("nginx.conf").toString()));
    try {
      assertEquals(List.of("shown"), renewed(0).findValuesAsText("state"));
      assertNotEquals(first, shown(tls, INGEST));
    } finally {
      ConfiguredServers.call(
          List.of("/usr/sbin/nginx", "-c", home.resolve("nginx.conf").toString(), "-s", "stop"));
    }
  }

  @Test
  void whatSomebodyPutThereIsLeftAndUndoTakesThePlaceFromTheRenewals() throws Exception {
    Path home = Files.createDirectory(temp.resolve("nginx"));
    int tls = FreePort.take();
    try (ConfiguredServers.Running running = ConfiguredServers.nginx(home)) {
      authority.order(account, "--host", INGEST, "--into", into, "--unsealed", "--agree").expect(0);
      Run unrecorded = configure(home, "--port", tls, "--no-renewal").expect(0);
      assertFalse(Files.exists(account.resolve(INGEST + ".places.json")), unrecorded.out());
      configure(home, "--port", tls).expect(0); // nothing to write but the record
      assertEquals(List.of("shown"), renewed(0).findValuesAsText("state"));

      Path other = file(temp, "other.pem", "");
      Files.delete(other);
      Path stranger = temp.resolve("stranger");
      authority
          .order(stranger, "--host", INGEST, "--into", other, "--unsealed", "--agree")
          .expect(0);
      Run given =
          Run.of("configure", "nginx", "--home", home, "--credential", other, "--write", "--reload")
              .expect(0);
      String others = shown(tls, INGEST);
      JsonNode left = renewed(1, "--within", "1000d");
      assertEquals(List.of("renewal-place-changed"), left.get("findings").findValuesAsText("id"));
      assertEquals(others, shown(tls, INGEST));

      String undo =
          given
              .out()
              .lines()
              .map(String::strip)
              .filter(one -> one.startsWith("symbolon undo "))
              .findFirst()
              .orElseThrow();
      Run.of((Object[]) undo.substring(9).split(" ", -1)).expect(0);
      assertFalse(Files.exists(stranger.resolve(INGEST + ".places.json")), undo);
      Run.of("order", "account", "--account", account, "--forget", "nginx " + INGEST).expect(0);
      JsonNode on = renewed(0);
      assertEquals(List.of("not-due"), outcomes(on)); // of the certificate itself nothing is lost
      assertEquals(List.of(), on.findValuesAsText("state"));
      Run.of("order", "account", "--account", account, "--forget", INGEST).expect(0);
      assertFalse(Files.exists(account.resolve(INGEST + ".places.json")));
      assertEquals(running.home(), home);
    }
  }

  @Test
  void aProgramOfOnesOwnIsStartedForEachNewCertificateUntilItEndsWell() throws Exception {
    Path bin = Files.createDirectory(temp.resolve("bin"));
    Path program =
        file(
            bin,
            "take",
            """
            #!/bin/sh
            echo "$SYMBOLON_DO $SYMBOLON_HOST $SYMBOLON_FILE $SYMBOLON_ACCOUNT" >> %s/called
            test ! -e %s/away
            """
                .formatted(bin, bin));
    Files.setPosixFilePermissions(program, PosixFilePermissions.fromString("rwx------"));
    String call = "take %s %s %s".formatted(INGEST, into, account);
    authority
        .order(
            account, "--host", INGEST, "--into", into, "--unsealed", "--agree", "--then", program)
        .expect(0);
    assertEquals(List.of(call), Files.readAllLines(bin.resolve("called")));
    renewed(0);
    assertEquals(1, Files.readAllLines(bin.resolve("called")).size());
    Path away = file(bin, "away", "");
    JsonNode failed = renewed(1, "--within", "1000d");
    assertEquals(List.of("new-files-not-taken"), failed.get("findings").findValuesAsText("id"));
    Files.delete(away);
    assertEquals(List.of("given"), renewed(0).findValuesAsText("state"));
    assertEquals(List.of(call, call, call), Files.readAllLines(bin.resolve("called")));
  }
}
