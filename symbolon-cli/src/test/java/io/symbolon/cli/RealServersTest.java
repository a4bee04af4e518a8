// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

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
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.StatusForge;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What the rehearsal foretells of files, servers and clients of others then do with the same files:
 * nginx, Tomcat, Jetty and PostgreSQL; and what a probe says of them.
 */
class RealServersTest {
  private static final String PASSWORD = "nautilus-ballast-17";
  private static final Authority STRANGER =
      Authority.root(name("Stranger Root"), KeyKind.EC_P256, NOW, YEAR, RANDOM);

  @TempDir static Path shared;
  private static @org.jspecify.annotations.Nullable Path made;

  @TempDir Path folder;

  private Path at(String name) {
    return folder.resolve(name);
  }

  private static Credential server(Authority by, String... hosts) {
    return by.issue(
        name("archive-db.lanternfish.example"),
        KeyKind.EC_P256,
        Stream.of(hosts).map(HostName::parse).toList(),
        Use.SERVER,
        NOW,
        YEAR);
  }

  private static Credential client(Authority by) {
    return by.issue(
        io.symbolon.x509.DistinguishedName.parse("CN=archive"),
        KeyKind.EC_P256,
        List.of(),
        Use.CLIENT,
        NOW,
        YEAR);
  }

  /** A credential as every server and client wants it: PEM of both parts, and a keystore. */
  private void write(String name, Credential credential, Certificate... more) throws Exception {
    List<Certificate> chain = new ArrayList<>(List.of(credential.certificate()));
    chain.addAll(List.of(more));
    file(folder, name + ".key", keyPem(credential));
    file(folder, name + ".crt", pem(chain.toArray(Certificate[]::new)));
    Run joined =
        Run.of(
            "join",
            at(name + ".key"),
            at(name + ".crt"),
            "--into",
            at(name + ".p12"),
            "--incomplete-chain",
            "--seal",
            "file=" + at("pass"));
    assertTrue(joined.code() <= 1 && Files.exists(at(name + ".p12")), joined.err());
  }

  /** The files of every side; they are made once, because sealing takes its time. */
  private void writeAll() throws Exception {
    Path from = made;
    if (from == null) {
      from = Files.createDirectory(shared.resolve("made"));
      makeAll();
      try (Stream<Path> files = Files.list(folder)) {
        for (Path file : files.filter(Files::isRegularFile).toList()) {
          Files.copy(file, from.resolve(file.getFileName()));
        }
      }
      made = from;
      return;
    }
    try (Stream<Path> files = Files.list(from)) {
      for (Path file : files.toList()) {
        Files.copy(file, folder.resolve(file.getFileName()), StandardCopyOption.COPY_ATTRIBUTES);
      }
    }
  }

  private void makeAll() throws Exception {
    file(folder, "pass", PASSWORD + "\n");
    file(folder, "root.pem", pem(root()));
    Run trust =
        Run.of(
            "truststore",
            at("root.pem"),
            "--into",
            at("trust.p12"),
            "--seal",
            "file=" + at("pass"));
    assertEquals(0, trust.code(), trust.err());
    write("good", server(ISSUING, "localhost"), issuing());
    write("alone", server(ISSUING, "localhost"));
    write("other", server(ISSUING, "archive-db.lanternfish.example"), issuing());
    write("stranger", server(STRANGER, "localhost"), STRANGER.certificate());
    write("buoy", client(ISSUING), issuing());
    write("buoy-alone", client(ISSUING));
    write("buoy-server", server(ISSUING, "localhost"), issuing());
    write("buoy-stranger", client(STRANGER), STRANGER.certificate());
  }

  private static final List<String> CLIENTS =
      List.of("buoy", "", "buoy-alone", "buoy-server", "buoy-stranger");

  private interface Starter {
    RealServer with(String credential) throws Exception;
  }

  private interface Client {
    boolean isAccepted(RealServer server, String credential) throws Exception;
  }

  private boolean rehearsed(String server, String client) {
    List<Object> line =
        new ArrayList<>(
            List.of(
                "rehearse",
                "--server",
                at(server + ".p12"),
                "--server-trust",
                at("trust.p12"),
                "--client-trust",
                at("root.pem"),
                "--host",
                "localhost",
                "--unlock",
                "file=" + at("pass"),
                "--json"));
    if (!client.isEmpty()) {
      line.addAll(List.of("--client", at(client + ".key"), at(client + ".crt")));
    }
    JsonNode json = Run.of(line.toArray()).json();
    boolean accepted = json.at("/pairs/0/accepted").asBoolean();
    assertEquals(accepted, json.findValuesAsText("level").stream().noneMatch("problem"::equals));
    return accepted;
  }

  /** Every server with every client that could be wrong, and a probe of each server. */
  private void judge(Starter starter, Client client, Object... probing) throws Exception {
    for (String server : List.of("good", "alone", "other", "stranger")) {
      try (RealServer running = starter.with(server)) {
        for (String credential : server.equals("good") ? CLIENTS : List.of("buoy")) {
          assertEquals(
              rehearsed(server, credential),
              client.isAccepted(running, credential),
              server + " with '" + credential + "': " + running.log());
        }
        List<Object> line =
            new ArrayList<>(
                List.of(
                    "probe",
                    "localhost:" + running.port(),
                    "--trust",
                    at("root.pem"),
                    "--credential",
                    at("buoy.key"),
                    "--credential",
                    at("buoy.crt"),
                    "--expect",
                    at("good.crt"),
                    "--json"));
        line.addAll(List.of(probing));
        if (!server.equals("good")) {
          line.add("--one-handshake"); // what it takes was found out already
        }
        Run run = Run.of(line.toArray());
        List<String> ids = new ArrayList<>(run.findingIds());
        ids.removeAll(List.of("address-without-answer", "no-forward-secrecy"));
        Map<String, List<String>> expected =
            Map.of(
                "good", List.of("client-certificate-accepted", "as-expected"),
                "alone",
                    List.of("not-as-expected", "issuer-not-sent", "client-certificate-accepted"),
                "other",
                    List.of("not-as-expected", "host-not-covered", "client-certificate-accepted"),
                "stranger",
                    run.json().at("/chain").size() > 1
                        ? List.of(
                            "root-not-trusted",
                            "not-as-expected",
                            "root-sent",
                            "client-certificate-accepted")
                        : List.of( // a keystore that we write holds no root
                            "issuer-not-sent", "not-as-expected", "client-certificate-accepted"));
        ids.sort(Comparator.naturalOrder());
        assertEquals(
            expected.getOrDefault(server, List.of()).stream().sorted().toList(),
            ids,
            server + ": " + run.out());
        assertEquals(
            server.equals("good") ? List.of("TLS 1.3", "TLS 1.2") : List.of(),
            Stream.iterate(0, i -> i + 1)
                .limit(5)
                .map(i -> run.json().at("/versions/" + i))
                .filter(version -> !version.isMissingNode())
                .filter(version -> version.get("answer").asText().equals("taken"))
                .map(version -> version.get("version").asText())
                .toList());
      }
    }
  }

  private SSLContext platform(String credential) throws Exception {
    TrustManagerFactory trust =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trust.init(KeyStore.getInstance(at("trust.p12").toFile(), PASSWORD.toCharArray()));
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    if (!credential.isEmpty()) {
      keys.init(
          KeyStore.getInstance(at(credential + ".p12").toFile(), PASSWORD.toCharArray()),
          PASSWORD.toCharArray());
    }
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(
        credential.isEmpty() ? null : keys.getKeyManagers(), trust.getTrustManagers(), null);
    return context;
  }

  private static int get(SSLContext context, int port) throws Exception {
    HttpClient http =
        HttpClient.newBuilder()
            .sslContext(context)
            .connectTimeout(java.time.Duration.ofMinutes(2))
            .build();
    return http.send(
            HttpRequest.newBuilder(URI.create("https://localhost:" + port + "/")).build(),
            HttpResponse.BodyHandlers.discarding())
        .statusCode();
  }

  private boolean isServed(RealServer server, String credential) throws Exception {
    try {
      return get(platform(credential), server.port()) == 200;
    } catch (IOException e) {
      return false;
    }
  }

  @Test
  void nginxDoesWhatTheRehearsalForetells() throws Exception {
    Nginx.assume();
    writeAll();
    judge(
        name ->
            Nginx.start(
                folder,
                "ssl_certificate %s; ssl_certificate_key %s; ssl_client_certificate %s; ssl_verify_client on; ssl_verify_depth 3; ssl_protocols TLSv1.2 TLSv1.3;"
                    .formatted(at(name + ".crt"), at(name + ".key"), at("root.pem"))),
        this::isServed);
  }

  @Test
  void tomcatDoesWhatTheRehearsalForetells() throws Exception {
    writeAll();
    judge(
        name -> TomcatServer.start(folder, at(name + ".p12"), at("trust.p12"), PASSWORD),
        this::isServed);
  }

  @Test
  void jettyDoesWhatTheRehearsalForetells() throws Exception {
    writeAll();
    judge(
        name ->
            JettyServer.start(
                tls -> {
                  tls.setKeyStorePath(at(name + ".p12").toString());
                  tls.setKeyStorePassword(PASSWORD);
                  tls.setTrustStorePath(at("trust.p12").toString());
                  tls.setTrustStorePassword(PASSWORD);
                  tls.setNeedClientAuth(true);
                }),
        this::isServed);
  }

  @Test
  void theStatusThatNginxSendsAlongIsReadAndJudged() throws Exception {
    Nginx.assume();
    writeAll();
    Credential shown = server(ISSUING, "localhost");
    write("stapled", shown, issuing());
    java.time.Instant past = NOW.minusSeconds(7_200);
    java.time.Instant next = NOW.plusSeconds(7_200);
    Credential own = ISSUING.credential();
    Map<String, byte[]> all = new LinkedHashMap<>();
    Certificate end = shown.certificate();
    all.put("", StatusForge.response(end, issuing(), StatusForge.good(), past, next, own));
    all.put(
        "revoked",
        StatusForge.response(end, issuing(), StatusForge.revoked(past), past, next, own));
    all.put(
        "stapled-unknown",
        StatusForge.response(end, issuing(), StatusForge.unknown(), past, next, own));
    all.put(
        "stapled-expired",
        StatusForge.response(end, issuing(), StatusForge.good(), past, NOW.minusSeconds(60), own));
    all.put(
        "stapled-of-another",
        StatusForge.response(issuing(), root(), StatusForge.good(), past, next, own));
    all.put(
        "stapled-signature-wrong",
        StatusForge.response(
            end, issuing(), StatusForge.good(), past, next, STRANGER.credential()));
    all.put("stapled-error", StatusForge.error(2));
    for (Map.Entry<String, byte[]> one : all.entrySet()) {
      Path status = file(folder, "status.der", one.getValue());
      try (RealServer nginx =
          Nginx.start(
              folder,
              "ssl_certificate %s; ssl_certificate_key %s; ssl_stapling on; ssl_stapling_file %s;"
                  .formatted(at("stapled.crt"), at("stapled.key"), status))) {
        Run run =
            Run.of(
                "probe",
                "127.0.0.1:" + nginx.port(),
                "--host",
                "localhost",
                "--trust",
                at("root.pem"),
                "--one-handshake",
                "--json");
        assertEquals(
            Stream.of(one.getKey()).filter(id -> !id.isEmpty()).toList(),
            run.findingIds(),
            run.out());
        assertEquals(
            one.getKey().isEmpty() || one.getKey().matches(".*(expired|wrong)"),
            run.json().at("/stapledStatus/status").asText().equals("good"));
      }
    }
  }

  private static final String MUTUAL = "hostssl all all 127.0.0.1/32 trust clientcert=verify-ca";

  private Map<String, Path> postgresFiles(String credential) {
    return Map.of(
        "ssl_cert_file",
        at(credential + ".crt"),
        "ssl_key_file",
        at(credential + ".key"),
        "ssl_ca_file",
        at("root.pem"));
  }

  private Map<String, String> psql(String credential) {
    Map<String, String> settings = new LinkedHashMap<>();
    settings.put("sslmode", "verify-full");
    settings.put("sslrootcert", at("root.pem").toString());
    settings.put("sslcert", at(credential + (credential.isEmpty() ? "none" : ".crt")).toString());
    settings.put("sslkey", at(credential + (credential.isEmpty() ? "none" : ".key")).toString());
    return settings;
  }

  @Test
  void postgresDoesWhatTheRehearsalForetells() throws Exception {
    Postgres.assume();
    writeAll();
    Path home = Postgres.database(folder);
    StringBuilder said = new StringBuilder();
    judge(
        name -> Postgres.start(home, folder, postgresFiles(name), MUTUAL),
        (server, credential) -> {
          String answer = ((Postgres) server).ask(psql(credential));
          said.append(answer).append('\n').append(server.log()).append('\n');
          return answer.equals("17");
        },
        "--start-with",
        "postgresql");
    Run explained = Run.of("explain", file(folder, "said.log", said.toString()), "--json");
    for (String id :
        List.of("no-client-certificate", "wrong-use", "host-not-covered", "peer-does-not-trust")) {
      assertTrue(explained.findingIds().contains(id), id + " in " + explained.out() + said);
    }
    assertFalse(explained.findingIds().contains("not-explained"), explained.out());
    Map<String, String> open = psql("buoy");
    Files.setPosixFilePermissions(
        at("buoy.key"), java.nio.file.attribute.PosixFilePermissions.fromString("rw-r--r--"));
    try (RealServer running = Postgres.start(home, folder, postgresFiles("good"), MUTUAL)) {
      String refused = ((Postgres) running).ask(open);
      Run why = Run.of("explain", file(folder, "open.log", refused), "--json");
      assertEquals(List.of("key-file-too-open"), why.findingIds(), refused);
    }
  }

  @Test
  void aDatabaseWithoutTlsSaysSoAndOneThatIsAskedWronglyIsExplained() throws Exception {
    Postgres.assume();
    writeAll();
    Path home = Postgres.database(folder);
    try (RealServer plain =
        Postgres.start(home, folder, Map.of(), "host all all 127.0.0.1/32 trust")) {
      Run run =
          Run.of("probe", "127.0.0.1:" + plain.port(), "--start-with", "postgresql", "--json");
      assertEquals(1, run.code());
      assertEquals(List.of("no-switch-to-tls"), run.findingIds());
      assertTrue(run.out().contains("ssl = on"), run.out());
      Run direct = Run.of("probe", "127.0.0.1:" + plain.port(), "--json");
      assertTrue(direct.out().contains("--start-with"), direct.out());
    }
    // A server that is no database is no database either.
    try (RealServer web = TomcatServer.start(folder, at("good.p12"), at("trust.p12"), PASSWORD)) {
      for (String service : List.of("postgresql", "smtp", "imap", "ldap")) {
        Run run =
            Run.of(
                "probe",
                "127.0.0.1:" + web.port(),
                "--start-with",
                service,
                "--limit",
                "1",
                "--json");
        assertTrue(run.code() == 1 || run.code() == 5, service + run.out() + run.err());
      }
    }
    assertEquals(2, Run.of("probe", "127.0.0.1:1", "--start-with", "gopher").code());
  }

  @Test
  void jettyServesOnWhileItsFilesAreReplaced() throws Exception {
    writeAll();
    Path live = Files.copy(at("good.p12"), at("live.p12"));
    try (io.symbolon.seal.Secret secret = io.symbolon.fixture.Lanternfish.secret(PASSWORD)) {
      ReloadingTls tls =
          ReloadingTls.of(TlsFiles.server(live).withTrust(at("root.pem")).withUnlock(secret));
      Credential buoy = client(ISSUING);
      SSLContext caller = TlsSetup.client(Trust.in(root())).withCredentials(buoy).context();
      try (RealServer jetty =
          JettyServer.start(
              settings -> {
                settings.setSslContext(tls.context());
                settings.setNeedClientAuth(true);
              })) {
        write("next", server(ISSUING, "localhost"), issuing());
        for (int i = 0; i < 60; i++) {
          Path from = at(i % 2 == 0 ? "next.p12" : "good.p12");
          Files.copy(from, at("tmp.p12"), StandardCopyOption.REPLACE_EXISTING);
          Files.move(at("tmp.p12"), live, StandardCopyOption.ATOMIC_MOVE);
          assertEquals(ReloadReport.Outcome.REPLACED, tls.reload().outcome());
          assertEquals(200, get(caller, jetty.port()));
          Run probed =
              i > 2
                  ? Run.of("explain", at("pass"))
                  : Run.of(
                      "probe",
                      "127.0.0.1:" + jetty.port(),
                      "--host",
                      "localhost",
                      "--expect",
                      at(i % 2 == 0 ? "next.crt" : "good.crt"),
                      "--credential",
                      at("buoy.key"),
                      "--credential",
                      at("buoy.crt"),
                      "--one-handshake",
                      "--trust",
                      at("root.pem"));
          assertEquals(0, probed.code(), probed.out());
        }
        Files.write(live, new byte[] {0x30, 0x17});
        assertTrue(tls.reload().isRefused());
        assertEquals(200, get(caller, jetty.port()));
        assertEquals(Optional.of(true), Optional.of(Files.exists(live)));
      }
    }
  }
}
