// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.server;
import static java.nio.charset.StandardCharsets.UTF_8;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.RevocationReason;
import java.io.IOException;
import java.math.BigInteger;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Servers are configured for real: shown, written, checked, reloaded, probed, and put back. */
class ConfigureCommandTest {
  @TempDir Path temp;
  private Path files;

  @BeforeEach
  void material() throws IOException {
    files = Files.createDirectory(temp.resolve("files"));
    credential("ingest", INGEST);
    credential(
        "buoy", ISSUING.issue(name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR));
    Authority squid =
        Authority.root(name("Squid Root"), KeyKind.EC_P256, NOW, Duration.ofDays(900), RANDOM);
    credential(
        "stranger",
        squid.issue(name("buoy-666"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR));
    file(files, "root.pem", pem(root()));
    file(files, "trust.pem", pem(root(), issuing()));
  }

  private void credential(String name, Credential credential) {
    file(files, name + ".key", keyPem(credential));
    file(
        files, name + ".pem", pem(credential.chain().toArray(io.symbolon.x509.Certificate[]::new)));
  }

  private Run configure(String server, Path home, Object... more) {
    List<Object> line = new ArrayList<>(List.of("configure", server, "--home", home));
    line.addAll(List.of("--credential", files.resolve("ingest.key"), files.resolve("ingest.pem")));
    line.addAll(List.of(files.resolve("root.pem"), "--host", HOST));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  private Object[] mutual(Object... more) {
    List<Object> line = new ArrayList<>(List.of("--client-trust", files.resolve("trust.pem")));
    line.addAll(List.of("--client", files.resolve("buoy.key"), files.resolve("buoy.pem")));
    line.addAll(List.of("--write", "--reload"));
    line.addAll(List.of(more));
    return line.toArray();
  }

  /** How a probe ends: 0 where the server lets this client in. */
  private int probed(int port, String client, Object... more) {
    List<Object> line = new ArrayList<>(List.of("probe", "127.0.0.1:" + port, "--host", HOST));
    line.addAll(List.of("--trust", files.resolve("root.pem"), "--one-handshake"));
    if (!client.isEmpty()) {
      line.addAll(List.of("--credential", files.resolve(client + ".key")));
      line.addAll(List.of("--credential", files.resolve(client + ".pem")));
    }
    line.addAll(List.of(more));
    return Run.of(line.toArray()).code();
  }

  /** The one command that brings back what was there. */
  private static void undone(Run written) {
    List<String> lines =
        written
            .out()
            .lines()
            .map(String::strip)
            .filter(one -> one.startsWith("symbolon undo"))
            .toList();
    assertEquals(1, lines.size(), written.out());
    Object[] words = lines.get(0).substring("symbolon ".length()).split(" ", -1);
    Run run = Run.of(words);
    assertEquals(0, run.code(), run.out() + run.err());
  }

  /** The commands of a server's page, with this server and these ports in their places. */
  private void runPage(String page, Map<String, String> places) throws Exception {
    runPage(page, places, command -> {});
  }

  /** What is done behind a command of a page. */
  private interface Behind {
    void run(String command) throws Exception;
  }

  private void runPage(String page, Map<String, String> places, Behind behind) throws Exception {
    int commands = 0;
    for (String line : Files.readAllLines(Path.of("../docs/servers").resolve(page))) {
      if (line.startsWith("    symbolon ")) {
        List<Object> words = new ArrayList<>();
        for (String word : line.strip().split(" ", -1)) {
          Path material = files.resolve(word);
          words.add(Files.isRegularFile(material) ? material : placed(word, places));
        }
        Run run = Run.of(words.subList(1, words.size()).toArray());
        assertEquals(0, run.code(), line + "\n" + run.out() + run.err());
        behind.run(line);
        commands++;
      }
    }
    assertTrue(commands > 2, page);
  }

  private static String placed(String word, Map<String, String> places) {
    for (Map.Entry<String, String> place : places.entrySet()) {
      boolean folder = place.getKey().startsWith("/") && word.startsWith(place.getKey());
      if (folder || word.equals(place.getKey())) {
        return place.getValue() + word.substring(place.getKey().length());
      }
    }
    return word;
  }

  @Test
  void nginxIsShownWrittenReloadedAndPutBack() throws Exception {
    Path home = Files.createDirectory(temp.resolve("nginx"));
    int tls = FreePort.take();
    try (ConfiguredServers.Running server = ConfiguredServers.nginx(home)) {
      Map<String, String> before = ConfiguredFiles.of(home);
      Run shown = configure("nginx", home, "--port", tls, "--redirect-from", server.port());
      assertEquals(0, shown.code(), shown.err());
      assertTrue(shown.out().contains("+\tlisten 127.0.0.1:" + tls + " ssl;"), shown.out());
      assertEquals(before, ConfiguredFiles.of(home));

      Run written =
          configure(
              "nginx", home, mutual("--port", tls, "--redirect-from", server.port(), "--json"));
      JsonNode change = written.json().get("change");
      assertEquals("running", change.get("end").asText(), written.out());
      assertEquals(3, change.get("answers").size()); // the client, the redirect, nobody
      assertEquals(0, probed(tls, "buoy"));
      assertEquals(1, probed(tls, ""));
      assertEquals(1, probed(tls, "stranger"));
      lostClientsStayOut(home, tls);
      assertTrue(Files.isSymbolicLink(home.resolve("sites-enabled/ingest")));
      aJavaProgramGetsIn(tls);
      assertEquals(
          "nothing",
          configure("nginx", home, "--client-trust", files.resolve("trust.pem"), "--json")
              .json()
              .get("change")
              .get("end")
              .asText());

      // Words that the server's own check refuses.
      Map<String, String> good = ConfiguredFiles.of(home);
      Run refused = configure("nginx", home, mutual("--port", tls, "--ciphers", "NO-SUCH"));
      assertEquals(4, refused.code(), refused.out());
      assertTrue(refused.out().contains("put back"), refused.out());
      assertEquals(good, ConfiguredFiles.of(home));

      // Another site answers first on the address: only the running server tells.
      file(
          home,
          "sites-enabled/0-other",
          """
          server {
            listen 127.0.0.1:%d ssl;
            server_name ingest.lanternfish.example;
            ssl_certificate %s;
            ssl_certificate_key %s;
          }
          """
              .formatted(tls, files.resolve("stranger.pem"), files.resolve("stranger.key")));
      credential("ingest", server(HOST, KeyKind.EC_P256));
      Map<String, String> other = ConfiguredFiles.of(home);
      Run hidden = configure("nginx", home, mutual("--port", tls, "--site", "ingest:2"));
      assertEquals(4, hidden.code(), hidden.out() + hidden.err());
      assertTrue(hidden.out().contains("put back"), hidden.out());
      assertEquals(other, ConfiguredFiles.of(home));
      Files.delete(home.resolve("sites-enabled/0-other"));

      // A renewed certificate is served, and undone.
      assertEquals(0, configure("nginx", home, mutual("--port", tls)).code());
      assertEquals(0, probed(tls, "buoy", "--expect", files.resolve("ingest.pem")));
      assertEquals(0, Run.of("undo", home.resolve("tls")).code());
      assertEquals(
          good.get("tls/" + HOST + ".key"), ConfiguredFiles.of(home).get("tls/" + HOST + ".key"));
    }
  }

  /** One that has expired and one that is revoked: rehearsed, and at the running server. */
  private void lostClientsStayOut(Path home, int port) throws IOException {
    Instant before = NOW.minusSeconds(300);
    credential(
        "expired",
        ISSUING.issue(
            name("buoy-001"),
            KeyKind.EC_P256,
            List.of(),
            Use.CLIENT,
            before,
            Duration.ofMinutes(2)));
    Credential lost =
        ISSUING.issue(name("buoy-018"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    credential("revoked", lost);
    Authority.Revocation revocation =
        new Authority.Revocation(lost.certificate().serial(), NOW, RevocationReason.KEY_COMPROMISE);
    String lists = list(ISSUING, List.of(revocation)) + list(Lanternfish.ROOT, List.of());
    file(files, "lists.pem", lists);
    for (String client : List.of("expired", "revoked")) {
      Object[] trust = {
        "--client-trust",
        files.resolve("trust.pem"),
        files.resolve("lists.pem"),
        "--client",
        files.resolve(client + ".key"),
        files.resolve(client + ".pem"),
        "--write"
      };
      Run refused = configure("nginx", home, trust);
      assertEquals(4, refused.code(), client + refused.out());
    }
    List<Object> line = new ArrayList<>(List.of("--client-trust", files.resolve("trust.pem")));
    line.addAll(List.of(files.resolve("lists.pem"), "--write", "--reload"));
    line.addAll(List.of("--client", files.resolve("buoy.key"), files.resolve("buoy.pem")));
    Run listed = configure("nginx", home, line.toArray());
    assertEquals(0, listed.code(), listed.out() + listed.err());
    assertEquals(0, probed(port, "buoy"));
    assertEquals(1, probed(port, "expired"));
    assertEquals(1, probed(port, "revoked"));
    assertEquals(0, configure("nginx", home, mutual()).code()); // without lists again, as it was
  }

  private static String list(Authority of, List<Authority.Revocation> revoked) {
    byte[] written =
        PemWriter.write(
            "X509 CRL",
            of.revocationList(revoked, BigInteger.ONE, NOW.minusSeconds(60), Lifetime.days(9))
                .encoding());
    return new String(written, UTF_8);
  }

  /** Another Java, with the file of arguments that is made for it. */
  private void aJavaProgramGetsIn(int port) throws Exception {
    Path place = temp.resolve("a buoy's");
    List<Object> line = new ArrayList<>(List.of("configure", "java", "--place", place));
    line.addAll(List.of("--trust", files.resolve("root.pem"), "--write", "--json"));
    line.addAll(List.of("--credential", files.resolve("buoy.key"), files.resolve("buoy.pem")));
    JsonNode client = Run.of(line.toArray()).json().get("client");
    assertEquals("written", client.get("end").asText());
    file(temp, "hosts", "127.0.0.1 " + HOST + "\n");
    file(
        temp,
        "Ask.java",
        """
        class Ask {
          public static void main(String[] address) throws Exception {
            try (var in = new java.net.URL(address[0]).openStream()) {
              in.transferTo(System.out);
            }
          }
        }
        """);
    Process process =
        new ProcessBuilder(
                System.getProperty("java.home") + "/bin/java",
                "@" + place.resolve("java.args"),
                "-Djdk.net.hosts.file=" + temp.resolve("hosts"),
                temp.resolve("Ask.java").toString(),
                "https://" + HOST + ":" + port + "/")
            .redirectErrorStream(true)
            .start();
    String said = new String(process.getInputStream().readAllBytes(), UTF_8);
    assertEquals(0, process.waitFor(), said);
    assertTrue(said.contains("17 buoys reporting"), said);
  }

  @Test
  void clientsAreSetUpAndProvenAsTheirPageSays() throws Exception {
    Path java = Files.createDirectories(temp.resolve("java/lib/security"));
    Path system = Path.of(System.getProperty("java.home"), "lib/security/cacerts");
    Files.copy(system.toRealPath(), java.resolve("cacerts"));
    Path program = Files.createDirectory(temp.resolve("archive"));
    file(program, "application.yaml", "# as it was\n");
    runPage(
        "clients.md",
        Map.of(
            "/srv/buoy",
            temp.resolve("buoy").toString(),
            "/srv/java",
            java.resolve("cacerts").toString(),
            "/srv/archive",
            program.toString(),
            "5432",
            String.valueOf(FreePort.take())));
    String service = Files.readString(temp.resolve("buoy/pg_service.conf"));
    assertTrue(service.startsWith("[ingest]\nhost=" + HOST + "\n"), service);
    assertEquals(0, Run.of("undo", java).code());
    assertEquals(-1, Files.mismatch(system.toRealPath(), java.resolve("cacerts")));
    // What the server shows is of another authority: nothing is written.
    Run stranger =
        Run.of(
            "configure",
            "java",
            "--place",
            temp.resolve("none"),
            "--trust",
            files.resolve("root.pem"),
            "--server",
            files.resolve("stranger.key"),
            files.resolve("stranger.pem"),
            "--write");
    assertEquals(4, stranger.code(), stranger.out());
    assertFalse(Files.exists(temp.resolve("none")));
    Run reload = Run.of("configure", "java", "--trust", files.resolve("root.pem"), "--reload");
    assertEquals(2, reload.code(), reload.err());
  }

  @Test
  void whatNginxWouldRefuseIsNotWrittenAndWhatItsPageSaysIs() throws Exception {
    Path home = Files.createDirectory(temp.resolve("nginx"));
    try (ConfiguredServers.Running server = ConfiguredServers.nginx(home)) {
      Map<String, String> before = ConfiguredFiles.of(home);
      int tls = FreePort.take();
      credential("ingest", server("other.lanternfish.example", KeyKind.EC_P256));
      Run name = configure("nginx", home, "--port", tls, "--write");
      assertEquals(4, name.code(), name.out());
      credential("ingest", INGEST);
      assertEquals(0, configure("nginx", home, "--port", tls).code());
      Run stranger =
          configure(
              "nginx",
              home,
              "--port",
              tls,
              "--client-trust",
              files.resolve("trust.pem"),
              "--client",
              files.resolve("stranger.key"),
              files.resolve("stranger.pem"),
              "--write");
      assertEquals(4, stranger.code(), stranger.out());
      try (ServerSocket other = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
        Run taken = configure("nginx", home, "--port", other.getLocalPort(), "--write");
        assertEquals(4, taken.code(), taken.out());
        assertTrue(taken.out().contains("port-taken"), taken.out());
      }
      assertEquals(before, ConfiguredFiles.of(home));

      String plain = String.valueOf(server.port());
      runPage(
          "nginx.md",
          Map.of("/etc/nginx", home.toString(), "443", String.valueOf(tls), "80", plain));
    }
  }

  @Test
  void postgresqlTakesNewFilesAndAsksItsClients() throws Exception {
    Path folder = Files.createDirectory(temp.resolve("pg"));
    Files.setPosixFilePermissions(
        temp, java.nio.file.attribute.PosixFilePermissions.fromString("rwx--x--x"));
    try (ConfiguredServers.Running server = ConfiguredServers.postgres(folder)) {
      Object[] start = {"--start-with", "postgresql"};
      Map<String, String> installed = ConfiguredFiles.of(server.home());
      Run first = configure("postgresql", server.home(), "--write");
      assertTrue(Files.exists(server.home().resolve("conf.d/10-tls.conf")));
      undone(first); // the settings that were not there go
      Map<String, String> restored = ConfiguredFiles.of(server.home());
      installed.forEach((name, text) -> assertEquals(text, restored.get(name), name));
      assertFalse(Files.exists(server.home().resolve("conf.d/10-tls.conf")));
      Run unread = configure("postgresql", server.home(), "--owner", "root", "--write");
      assertEquals(4, unread.code(), unread.out());
      assertTrue(unread.out().contains("account-cannot-read"), unread.out());
      runPage(
          "postgresql.md",
          Map.of(
              "/etc/postgresql/15/main",
              server.home().toString(),
              "archive=buoy.pem",
              "archive=" + files.resolve("buoy.pem")));
      assertEquals(0, probed(server.port(), "buoy", start));
      assertEquals(1, probed(server.port(), "", start));
      assertEquals(1, probed(server.port(), "stranger", start));
      JsonNode read = Run.of("configure", "postgresql", "--home", server.home(), "--json").json();
      JsonNode place = read.get("servers").get(0).get("places").get(0);
      assertEquals("mutual", place.get("mode").asText());
      assertFalse(
          read.get("findings").findValuesAsText("level").contains("problem"), read.toString());
      aClientOfPostgresGetsIn(server.port());
      Run renewed = configure("postgresql", server.home(), "--write", "--reload");
      assertEquals(0, renewed.code(), renewed.out() + renewed.err());
      assertEquals(1, probed(server.port(), "", start)); // nobody said that it stops asking
      Map<String, String> mutual = ConfiguredFiles.of(server.home());
      Run back = configure("postgresql", server.home(), "--mode", "one-way", "--write", "--reload");
      assertEquals(0, back.code(), back.out() + back.err());
      assertEquals(0, probed(server.port(), "", start));
      undone(back); // files in several folders, in one step
      assertEquals(mutual, ConfiguredFiles.of(server.home()));
    }
  }

  /** The database itself judges whether the subject is written as it writes it. */
  @Test
  void aRoleOfPostgresqlLogsInByACertificateWithAnySubject() throws Exception {
    Path folder = Files.createDirectory(temp.resolve("pg"));
    Files.setPosixFilePermissions(
        temp, java.nio.file.attribute.PosixFilePermissions.fromString("rwx--x--x"));
    DistinguishedName subject =
        DistinguishedName.parse(
            "CN=\\#Boje 7\\, \\\"Süd\\\" \\<\\+\\;=\\\\\\>\\ +serialNumber=17,STREET=\\ Kai 3,givenName=Æ"
                + "+SN=Ö,emailAddress=boje@lanternfish.example,UID=7,OU=深海,O=Lanternfish Observatory,C=NO,"
                + "DC=example");
    Credential odd = ISSUING.issue(subject, KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    credential("odd", odd);
    String role = "Boje \"Süd\"";
    try (ConfiguredServers.Running server = ConfiguredServers.postgres(folder)) {
      psql(
          "host=127.0.0.1 port=" + server.port() + " user=archive dbname=postgres",
          "create role \"Boje \"\"Süd\"\"\" login");
      Run wrong =
          configure(
              "postgresql",
              server.home(),
              mutual("--role", "no such role=" + files.resolve("buoy.pem")));
      assertEquals(4, wrong.code(), wrong.out()); // the running server says so, and all is put back
      assertTrue(wrong.out().contains("role \"no such role\" does not exist"), wrong.out());
      Run written =
          configure(
              "postgresql",
              server.home(),
              "--client-trust",
              files.resolve("trust.pem"),
              "--client",
              files.resolve("odd.key"),
              files.resolve("odd.pem"),
              "--role",
              role + "=" + files.resolve("odd.pem"),
              "--write",
              "--reload");
      assertEquals(0, written.code(), written.out() + written.err());
      String login = "host=127.0.0.1 dbname=postgres sslmode=require port=" + server.port();
      String shown = " sslcert=" + files.resolve("odd.pem") + " sslkey=" + files.resolve("odd.key");
      String said = psql(login + shown + " user='" + role + "'", "select 17 as buoys");
      assertTrue(said.contains("17"), said);
      String other =
          " sslcert=" + files.resolve("buoy.pem") + " sslkey=" + files.resolve("buoy.key");
      String refused = psql(login + other + " user='" + role + "'", "select 17 as buoys");
      assertTrue(refused.contains("certificate authentication failed"), refused);
    }
  }

  private static String psql(String where, String what) throws Exception {
    Process process =
        new ProcessBuilder(Postgres.program("psql").toString(), where, "-c", what)
            .redirectErrorStream(true)
            .start();
    String said = new String(process.getInputStream().readAllBytes(), UTF_8);
    process.waitFor();
    return said;
  }

  @Test
  void httpdGetsItsModulesAndIsPutBack() throws Exception {
    Path home = Files.createDirectory(temp.resolve("httpd"));
    int tls = FreePort.take();
    try (ConfiguredServers.Running server = ConfiguredServers.httpd(home)) {
      Map<String, String> before = ConfiguredFiles.of(home);
      // Its own check lets these words pass; a copy of the server does not start with them.
      Run refused = configure("httpd", home, mutual("--port", tls, "--ciphers", "NO-SUCH"));
      assertEquals(4, refused.code(), refused.out());
      assertTrue(refused.out().contains("does not start"), refused.out());
      assertEquals(before, ConfiguredFiles.of(home));
      assertFalse(Files.exists(home.resolve("mods-enabled/ssl.load")));

      String plain = String.valueOf(server.port());
      runPage(
          "httpd.md",
          Map.of("/etc/apache2", home.toString(), "443", String.valueOf(tls), "80", plain));
      assertTrue(Files.isSymbolicLink(home.resolve("sites-enabled/000-default.conf")));
      Run again = configure("httpd", home, mutual("--port", tls, "--redirect-from", plain));
      assertEquals(0, again.code(), again.out() + again.err());
      assertEquals(0, probed(tls, "buoy"));
      assertEquals(1, probed(tls, ""));
      assertEquals(1, probed(tls, "stranger"));
      Run optional = configure("httpd", home, mutual("--port", tls, "--mode", "optional"));
      assertEquals(0, optional.code(), optional.out() + optional.err());
      assertEquals(0, probed(tls, ""));
    }
  }

  @Test
  void aProgramOnSpringBootIsRestartedOnceAndThenNoticesByItself() throws Exception {
    Path home = Files.createDirectory(temp.resolve("spring boot é"));
    Path jar = ConfiguredServers.springJar(home);
    int tls = FreePort.take();
    List<AutoCloseable> program = new ArrayList<>();
    try {
      runPage(
          "spring-boot.md",
          Map.of("/srv/ingest", home.toString(), "8443", String.valueOf(tls)),
          command -> {
            if (command.endsWith("--write")) {
              program.add(ConfiguredServers.java(home, tls, "-jar", jar.toString()));
              assertEquals(0, probed(tls, "buoy"));
              credential("ingest", server(HOST, KeyKind.EC_P256));
            }
          });
      assertEquals(0, probed(tls, "buoy", "--expect", files.resolve("ingest.pem")));
      assertEquals(1, probed(tls, ""));
      assertEquals(1, probed(tls, "stranger"));
      Run read = Run.of("configure", "spring-boot", "--home", jar, "--json");
      assertEquals(
          "mutual",
          read.json().get("servers").get(0).get("places").get(0).get("mode").asText(),
          read.out());
      program.add(aProgramThatCalls(tls));
    } finally {
      for (AutoCloseable one : program) {
        one.close();
      }
    }
  }

  /** Another program on Spring Boot asks the first one, with the bundle that it was given. */
  private AutoCloseable aProgramThatCalls(int server) throws Exception {
    Path home = Files.createDirectory(temp.resolve("archive"));
    Path jar = ConfiguredServers.springJar(home);
    List<Object> line = new ArrayList<>(List.of("configure", "spring-client", "--home", home));
    line.addAll(List.of("--trust", files.resolve("root.pem"), "--site", "ingest"));
    line.addAll(List.of("--server", files.resolve("ingest.key"), files.resolve("ingest.pem")));
    line.addAll(List.of("--host", HOST, "--write"));
    Object[] bare = line.toArray();
    line.addAll(List.of("--credential", files.resolve("buoy.key"), files.resolve("buoy.pem")));
    Run written = Run.of(line.toArray());
    assertEquals(0, written.code(), written.out() + written.err());
    assertTrue(written.out().contains("fromBundle(\"ingest\")"), written.out());
    assertTrue(Run.of(line.toArray()).out().contains("nothing"), "twice is once");
    Path hosts = file(home, "hosts", "127.0.0.1 " + HOST + "\n");
    int port = FreePort.take();
    AutoCloseable program =
        ConfiguredServers.java(
            home,
            port,
            "-Djdk.net.hosts.file=" + hosts,
            "-jar",
            jar.toString(),
            "--server.port=" + port,
            "--archive.bundle=ingest",
            "--archive.url=https://" + HOST + ":" + server + "/");
    HttpResponse<String> said =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/archive")).build(),
                HttpResponse.BodyHandlers.ofString());
    assertEquals(
        "17 buoys reporting\n", said.body(), Files.readString(home.resolve("program.log")));
    Run without = Run.of(bare);
    assertEquals(0, without.code(), without.out() + without.err());
    assertFalse(
        Files.readString(home.resolve("application.properties")).contains("keystore"),
        without.out());
    return program;
  }

  private void aClientOfPostgresGetsIn(int port) throws Exception {
    Path service = temp.resolve("service/pg_service.conf");
    List<Object> line = new ArrayList<>(List.of("configure", "libpq", "--home", service));
    line.addAll(List.of("--trust", files.resolve("root.pem"), "--host", HOST, "--write"));
    line.addAll(List.of("--credential", files.resolve("buoy.key"), files.resolve("buoy.pem")));
    Run written = Run.of(line.toArray());
    assertEquals(0, written.code(), written.out() + written.err());
    ProcessBuilder psql =
        new ProcessBuilder(
            Postgres.program("psql").toString(),
            "service=ingest hostaddr=127.0.0.1 dbname=postgres user=archive port=" + port,
            "-c",
            "select 17 as buoys");
    psql.environment().put("PGSERVICEFILE", service.toString());
    Process process = psql.redirectErrorStream(true).start();
    String said = new String(process.getInputStream().readAllBytes(), UTF_8);
    process.waitFor();
    assertTrue(said.contains("17"), said);
  }

  @Test
  void tomcatGetsAConnectorAndIsRestarted() throws Exception {
    Path base = Files.createDirectory(temp.resolve("tomcat"));
    int tls = FreePort.take();
    try (ConfiguredServers.Running server = ConfiguredServers.tomcat(base)) {
      runPage(
          "tomcat.md",
          Map.of(
              "/etc/tomcat10",
              base.toString(),
              "8443",
              String.valueOf(tls),
              "8080",
              String.valueOf(server.port())));
      assertEquals(0, probed(tls, "buoy"));
      assertEquals(1, probed(tls, ""));
      assertEquals(1, probed(tls, "stranger"));
      Run again = configure("tomcat", base, "--client-trust", files.resolve("trust.pem"), "--json");
      assertEquals("nothing", again.json().get("change").get("end").asText(), again.out());
      Run shown = Run.of("undo", "--list", base.resolve("conf"));
      assertTrue(shown.out().contains("server.xml"), shown.out());
      Run optional =
          configure(
              "tomcat",
              base,
              "--client-trust",
              files.resolve("trust.pem"),
              "--mode",
              "optional",
              "--write",
              "--reload");
      assertEquals(0, optional.code(), optional.out() + optional.err());
      assertEquals(0, probed(tls, ""));
    }
  }

  @Test
  void aTomcatAsItsMakersPackItShowsTwoKeysAndInsistsOnTls() throws Exception {
    Path base = Files.createDirectory(temp.resolve("Tomcat 10 é"));
    int tls = FreePort.take();
    credential("ingest-ec", server(HOST, KeyKind.EC_P256));
    try (ConfiguredServers.Running server = ConfiguredServers.packedTomcat(base)) {
      String before = Files.readString(base.resolve("conf/web.xml"));
      List<Object> line = new ArrayList<>(List.of("configure", "tomcat", "--home", base));
      for (String one : List.of("ingest", "ingest-ec")) {
        line.addAll(
            List.of("--credential", files.resolve(one + ".key"), files.resolve(one + ".pem")));
      }
      line.addAll(List.of("--host", HOST, "--port", tls, "--redirect-from", server.port()));
      line.addAll(List.of("--strict-transport", "365d", "--write", "--reload"));
      Run written = Run.of(line.toArray());
      assertEquals(0, written.code(), written.out() + written.err());
      Run probe =
          Run.of("probe", "127.0.0.1:" + tls, "--host", HOST, "--trust", files.resolve("root.pem"));
      assertTrue(probe.out().contains("RSA"), probe.out());
      assertTrue(probe.out().contains("EC P-256"), probe.out());
      String answer = asked(List.of("https://" + HOST + ":" + tls + "/"), tls);
      assertTrue(
          answer
              .toLowerCase(java.util.Locale.ROOT)
              .contains("strict-transport-security: max-age=31536000"),
          answer);
      assertFalse(answer.toLowerCase(java.util.Locale.ROOT).contains("x-frame-options"), answer);
      String plain = asked(List.of("http://127.0.0.1:" + server.port() + "/"), tls);
      assertTrue(plain.contains("302"), plain);
      Run again = Run.of(line.toArray());
      assertTrue(
          again.out().contains("nothing to write; the server does what is wanted"),
          "not restarted: it was started with these files. " + again.out());
      Run silent = configure("tomcat", base, "--site", tls, "--write", "--reload");
      assertEquals(4, silent.code(), "a second certificate is not dropped in silence");
      assertTrue(silent.out().contains("it shows 2 certificates"), silent.out());
      Run one =
          configure("tomcat", base, "--site", tls, "--may-change", tls, "--write", "--reload");
      assertEquals(0, one.code(), one.out() + one.err());
      assertFalse(Files.readString(base.resolve("conf/server.xml")).contains("type=\"EC\""));
      assertTrue(
          Files.readString(base.resolve("conf/web.xml"))
              .startsWith(before.substring(0, before.lastIndexOf("</web-app>"))));
    }
  }

  /** What a client of HTTP gets, with the lines before the content. */
  private String asked(List<String> url, int tls) throws Exception {
    List<String> line =
        new ArrayList<>(
            List.of("curl", "-s", "-i", "--cacert", files.resolve("root.pem").toString()));
    line.addAll(List.of("--resolve", HOST + ":" + tls + ":127.0.0.1"));
    line.addAll(url);
    Process process = new ProcessBuilder(line).redirectErrorStream(true).start();
    String said = new String(process.getInputStream().readAllBytes(), UTF_8);
    process.waitFor();
    return said;
  }
}
