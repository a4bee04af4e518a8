// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static io.symbolon.acme.ServedAuthority.hosts;
import static io.symbolon.acme.ServedAuthority.loopback;
import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.pem.PemWriter;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.KeyPair;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import javax.net.ssl.SSLContext;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;

/** An authority that is down, slow, wrong or lying: a clear failure each time, and no hang. */
@Timeout(value = 3, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
@SuppressWarnings("NullAway.Init") // made before each test
class LyingAuthorityTest {
  private static final String INGEST = "ingest.lanternfish.example";

  /** What is said at a path: status, type, content; and headers. */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  private record Line(int status, String type, byte[] body, Map<String, String> headers) {
    static Line json(int status, String json) {
      return new Line(status, "application/json", json.getBytes(StandardCharsets.UTF_8), Map.of());
    }

    Line with(String name, String value) {
      return new Line(status, type, body, Map.of(name, value));
    }
  }

  private final Map<String, Line> lines = new ConcurrentHashMap<>();
  private final AtomicInteger questions = new AtomicInteger();
  private final List<Duration> slept = new ArrayList<>();
  private HttpsServer server;
  private String base;
  private SSLContext trust;

  @BeforeEach
  void start() throws Exception {
    var shown =
        Lanternfish.ROOT.issue(
            Lanternfish.name("liar"),
            KeyKind.EC_P256,
            List.of(HostName.parse("127.0.0.1")),
            Use.SERVER,
            Lanternfish.NOW,
            Lanternfish.YEAR);
    server = HttpsServer.create(loopback(0), 20);
    server.setHttpsConfigurator(new HttpsConfigurator(TlsSetup.server(shown).context()));
    server.createContext(
        "/",
        exchange -> {
          questions.incrementAndGet();
          exchange.getRequestBody().readAllBytes();
          Line line = lines.getOrDefault(exchange.getRequestURI().getPath(), Line.json(404, "{}"));
          line.headers().forEach(exchange.getResponseHeaders()::set);
          exchange.getResponseHeaders().set("Content-Type", line.type());
          exchange.getResponseHeaders().set("Replay-Nonce", "bm9uY2U" + questions.get());
          exchange.sendResponseHeaders(
              line.status(), line.body().length == 0 ? -1 : line.body().length);
          exchange.getResponseBody().write(line.body());
          exchange.close();
        });
    server.start();
    base = "https://127.0.0.1:" + server.getAddress().getPort();
    trust = TlsSetup.client(Trust.in(Lanternfish.root())).context();
    say("/d", Line.json(200, directory()));
    say("/nonce", Line.json(200, ""));
    say("/account", Line.json(201, "{\"status\":\"valid\"}").with("Location", base + "/account/1"));
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private void say(String path, Line line) {
    lines.put(path, line);
  }

  private String directory() {
    return "{\"newNonce\":\"%1$s/nonce\",\"newAccount\":\"%1$s/account\",\"newOrder\":\"%1$s/order\"}"
        .formatted(base);
  }

  private RemoteAuthority remote() {
    return RemoteAuthority.at(
        URI.create(base + "/d"),
        trust,
        new Patience(Duration.ofSeconds(5), Duration.ofMinutes(2), Clock.systemUTC(), slept::add));
  }

  private RemoteAccount account() {
    return remote().register(ServedAuthority.key(), List.of(), true);
  }

  private void order(String status, String more) {
    say(
        "/order",
        Line.json(
                201,
                "{\"status\":\"%2$s\",\"identifiers\":[{\"type\":\"dns\",\"value\":\"%3$s\"}],\"authorizations\":[\"%1$s/proof\"],\"finalize\":\"%1$s/final\"%4$s}"
                    .formatted(base, status, INGEST, more))
            .with("Location", base + "/order/1"));
    lines.put("/order/1", lines.get("/order"));
  }

  private SymbolonException fails(Order order, KeyPair pair) {
    Ordering ordering = new Ordering(account(), List.of(), Ordering.Progress.SILENT);
    return assertThrows(
        SymbolonException.class,
        () -> ordering.obtain(order, ServedAuthority.request(pair, INGEST)));
  }

  private static Credential shown(String host, Instant from, Duration lasts) {
    return Lanternfish.ROOT.issue(
        Lanternfish.name("liar"),
        KeyKind.EC_P256,
        List.of(HostName.parse(host)),
        Use.SERVER,
        from,
        lasts);
  }

  private static Stream<Arguments> certificates() {
    Instant now = Lanternfish.NOW;
    Trust known = Trust.in(Lanternfish.root());
    Trust other = Trust.in(Lanternfish.issuing());
    Credential good = shown("127.0.0.1", now, Lanternfish.YEAR);
    return Stream.of(
        Arguments.of(shown("127.0.0.1", now, Duration.ofSeconds(1)), known, "has ended", "clock"),
        Arguments.of(
            shown("127.0.0.1", now.plus(Duration.ofDays(2)), Lanternfish.YEAR),
            known,
            "is not valid yet",
            "Check the clocks of this machine and of the authority."),
        Arguments.of(
            shown("127.0.0.2", now, Lanternfish.YEAR), known, "for other hosts", "by a name"),
        Arguments.of(good, other, "not trusted here", "name its root: the trust"));
  }

  @ParameterizedTest
  @MethodSource("certificates")
  void whatItsOwnCertificateLacksIsTold(
      Credential credential, Trust trusted, String seen, String remedy) throws Exception {
    Instant ends = credential.certificate().notAfter();
    if (ends.isBefore(Lanternfish.NOW.plusSeconds(5))) {
      await().until(() -> Instant.now().isAfter(ends));
    }
    HttpsServer wrong = HttpsServer.create(loopback(0), 5);
    wrong.setHttpsConfigurator(new HttpsConfigurator(TlsSetup.server(credential).context()));
    wrong.start();
    try {
      URI directory = URI.create("https://127.0.0.1:" + wrong.getAddress().getPort() + "/d");
      SymbolonException e =
          assertThrows(
              SymbolonException.class,
              () ->
                  RemoteAuthority.at(
                      directory, TlsSetup.client(trusted).context(), Patience.usual()));
      assertEquals(Reason.NO_ANSWER, e.reason());
      assertTrue(e.seen().contains(seen), e.seen());
      assertTrue(e.remedy().advice().contains(remedy), e.remedy().advice());
    } finally {
      wrong.stop(0);
    }
  }

  @Test
  void whatIsNoDirectoryIsToldAsThat() {
    for (String wrong : List.of("", "garbage", "[]", "{}", "{\"newNonce\":7}", directory() + "x")) {
      say("/d", Line.json(200, wrong));
      SymbolonException e = assertThrows(SymbolonException.class, this::remote, wrong);
      assertEquals(Reason.NOT_UNDERSTOOD, e.reason(), wrong);
    }
    say("/d", new Line(200, "text/html", new byte[3 << 20], Map.of()));
    assertEquals(Reason.LIMIT_PASSED, assertThrows(SymbolonException.class, this::remote).reason());
    say("/d", Line.json(301, "").with("Location", "https://other.example/"));
    assertTrue(
        assertThrows(SymbolonException.class, this::remote).seen().contains("other.example"));
    say("/d", Line.json(200, directory().replace("https:", "http:")));
    assertThrows(SymbolonException.class, this::account, "nothing is sent in clear text");
    say("/d", Line.json(200, "{\"a\":" + "[".repeat(5_000) + "]".repeat(5_000) + "}"));
    assertEquals(
        Reason.NOT_UNDERSTOOD, assertThrows(SymbolonException.class, this::remote).reason());
    server.stop(0);
    assertEquals(Reason.NO_ANSWER, assertThrows(SymbolonException.class, this::remote).reason());
  }

  @ParameterizedTest
  @EnumSource
  void everyTypeOfProblemIsToldWithWhatToDo(ProblemType type) {
    say(
        "/account",
        new Line(
            type.status(),
            "application/problem+json",
            ("{\"type\":\"" + type.urn() + "\",\"detail\":\"so it is\"}")
                .getBytes(StandardCharsets.UTF_8),
            Map.of()));
    RefusedException refused = assertThrows(RefusedException.class, this::account);
    assertEquals(type.word(), refused.type());
    assertTrue(refused.seen().contains("so it is"), refused.seen());
    assertTrue(refused.remedy().advice().length() > 10, type + "");
    assertTrue(questions.get() < 30, "nonces are not asked for without end: " + questions);
  }

  @Test
  void aBusyAuthorityIsWaitedForWithinReason() {
    say("/account", new Line(503, "text/plain", new byte[0], Map.of("Retry-After", "20")));
    RefusedException busy = assertThrows(RefusedException.class, this::account);
    assertTrue(busy.again().isPresent());
    assertTrue(slept.size() >= 2 && slept.size() <= 6, slept + "");
    slept.clear();
    say("/account", new Line(503, "text/plain", new byte[0], Map.of("Retry-After", "86400")));
    assertThrows(RefusedException.class, this::account);
    assertEquals(List.of(), slept, "nobody waits for a day");
  }

  @Test
  void anOrderThatNeverEndsIsGivenUpOn() {
    order("processing", "");
    RemoteAccount account = account();
    SymbolonException e = fails(account.order(hosts(INGEST)), ServedAuthority.pair());
    assertEquals(Reason.NO_ANSWER, e.reason());
    assertTrue(e.remedy().advice().contains("goes on where it stopped"), e.remedy().advice());
    Duration whole = slept.stream().reduce(Duration.ZERO, Duration::plus);
    assertTrue(whole.compareTo(Duration.ofMinutes(2)) <= 0, whole + "");
    assertTrue(slept.get(3).compareTo(slept.get(0)) > 0, "the waits grow: " + slept);
  }

  @Test
  void whatCameMustBeWhatWasOrdered() {
    order("valid", ",\"certificate\":\"" + base + "/cert\"");
    KeyPair pair = ServedAuthority.pair();
    RemoteAccount account = account();
    Order order = account.order(hosts(INGEST));
    chain(Lanternfish.INGEST.certificate(), Lanternfish.issuing());
    assertTrue(fails(order, pair).seen().contains("another key"));

    var half = io.symbolon.key.SubjectPublicKeyInfo.of(pair.getPublic());
    Certificate others =
        Lanternfish.ISSUING.sign(
            Lanternfish.name("kelp"),
            half,
            hosts("kelp.lanternfish.example"),
            Use.SERVER,
            Lanternfish.NOW,
            Lanternfish.YEAR);
    chain(others, Lanternfish.issuing());
    assertTrue(fails(order, pair).seen().contains("kelp.lanternfish.example"));

    Certificate right =
        Lanternfish.ISSUING.sign(
            Lanternfish.name("ingest"),
            half,
            hosts(INGEST),
            Use.SERVER,
            Lanternfish.NOW,
            Lanternfish.YEAR);
    chain(right, Lanternfish.CATALOGUE.certificate());
    assertTrue(fails(order, pair).seen().contains("does not hold"));
    say(
        "/cert",
        new Line(200, "text/plain", "no certificate".getBytes(StandardCharsets.UTF_8), Map.of()));
    assertEquals(Reason.NOT_UNDERSTOOD, fails(order, pair).reason());

    // Other names than were ordered, from the beginning.
    order("pending", "");
    SymbolonException names =
        assertThrows(
            SymbolonException.class, () -> account.order(hosts("catalogue.lanternfish.example")));
    assertTrue(names.seen().contains("other names"), names.seen());

    // A proof for a name that nobody ordered is not given.
    say(
        "/proof",
        Line.json(
            200,
            "{\"status\":\"pending\",\"identifier\":{\"type\":\"dns\",\"value\":\"bank.example\"},\"challenges\":[]}"));
    Order pending = account.order(hosts(INGEST));
    assertTrue(fails(pending, pair).seen().contains("bank.example"));
  }

  private void chain(Certificate... certificates) {
    StringBuilder pem = new StringBuilder();
    for (Certificate one : certificates) {
      pem.append(
          new String(PemWriter.write("CERTIFICATE", one.encoding()), StandardCharsets.US_ASCII));
    }
    say(
        "/cert",
        new Line(
            200,
            "application/pem-certificate-chain",
            pem.toString().getBytes(StandardCharsets.US_ASCII),
            // It offers another chain for ever: itself.
            Map.of("Link", ("<" + base + "/cert>;rel=\"alternate\",").repeat(50))));
  }
}
