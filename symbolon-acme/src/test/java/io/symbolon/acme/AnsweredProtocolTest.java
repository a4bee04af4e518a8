// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpServer;
import io.symbolon.acme.RawClient.Said;
import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AnswerPlan.RequestLimits;
import io.symbolon.x509.CertificateRequest;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyPair;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.UnaryOperator;
import org.jose4j.jws.JsonWebSignature;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** What the authority answers, held against RFC 8555 by a client of the general libraries. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
@SuppressWarnings("NullAway.Init") // made in each test
class AnsweredProtocolTest {
  private static final String INGEST = "ingest.lanternfish.example";
  private static final ObjectNode NOTHING = RawClient.JSON.createObjectNode();

  @TempDir Path temp;
  private ServedAuthority served;
  private RawClient client;

  @AfterEach
  void stop() {
    served.close();
  }

  private void serve(UnaryOperator<AnswerPlan> plan) throws Exception {
    served = ServedAuthority.in(temp, plan);
    client = new RawClient(served.server.directory(), served.trust());
  }

  private void serveWithAccount() throws Exception {
    serve(plan -> plan);
    assertEquals(201, client.register(NOTHING).status());
  }

  @Test
  void messagesThatAreNotAsTheStandardHasThemAreRefused() throws Exception {
    serveWithAccount();
    String url = client.address("newOrder");
    String wish = "{\"identifiers\":[{\"type\":\"dns\",\"value\":\"" + INGEST + "\"}]}";

    // A nonce is taken once, and only one of ours.
    ObjectNode once = client.message(url, wish, client.nonce(), client::withAccount);
    assertEquals(201, client.send(url, once, "application/jose+json").status());
    assertEquals("badNonce", client.send(url, once, "application/jose+json").type());
    ObjectNode foreign = client.message(url, wish, "bm9uZSBvZiB5b3Vycw", client::withAccount);
    Said refused = client.send(url, foreign, "application/jose+json");
    assertEquals("badNonce", refused.type());
    assertTrue(refused.whole().headers().firstValue("Replay-Nonce").isPresent(), "a fresh one");

    // What is signed for one address is of no use at another.
    ObjectNode elsewhere =
        client.message(client.address("revokeCert"), wish, client.nonce(), client::withAccount);
    assertEquals("unauthorized", client.send(url, elsewhere, "application/jose+json").type());

    // Either the account or the key, never both and never none.
    assertEquals(
        "malformed",
        client
            .post(
                url,
                wish,
                jws -> {
                  client.withAccount(jws);
                  client.withKey(jws);
                })
            .type());
    assertEquals("malformed", client.post(url, wish, jws -> {}).type());
    assertEquals("malformed", client.post(url, wish, client::withKey).type(), "a key, no account");

    // Another content under the same signature.
    ObjectNode changed = client.message(url, wish, client.nonce(), client::withAccount);
    changed.put("payload", b64(wish.replace("ingest", "catalogue")));
    assertEquals("malformed", client.send(url, changed, "application/jose+json").type());

    // No signature at all, one by a shared key, and an account that is not there.
    ObjectNode none = client.message(url, wish, client.nonce(), client::withAccount);
    none.put(
        "protected",
        b64(
            RawClient.JSON
                .createObjectNode()
                .put("alg", "none")
                .put("kid", client.account())
                .put("nonce", client.nonce())
                .put("url", url)
                .toString()));
    none.put("signature", "");
    Said algorithm = client.send(url, none, "application/jose+json");
    assertEquals("badSignatureAlgorithm", algorithm.type());
    assertTrue(algorithm.json().get("algorithms").toString().contains("ES256"));
    assertEquals(
        "accountDoesNotExist",
        client.post(url, wish, jws -> jws.setKeyIdHeaderValue(client.account() + "x")).type());

    // Types and methods.
    ObjectNode good = client.message(url, wish, client.nonce(), client::withAccount);
    assertEquals(415, client.send(url, good, "application/json").status());
    assertEquals(405, client.get(client.account()).statusCode(), "a plain GET tells nothing");
    assertEquals(404, client.get(served.server.directory() + "/../x").statusCode());
    ObjectNode large = NOTHING.deepCopy().put("payload", "A".repeat(10 << 20));
    Optional<Said> tooMuch = maybe(() -> client.send(url, large, "application/jose+json"));
    assertTrue(tooMuch.isEmpty() || tooMuch.get().status() == 413, tooMuch + "");
    ObjectNode deep = NOTHING.deepCopy();
    deep.put("payload", "x").put("protected", "[".repeat(100_000));
    assertEquals(400, client.send(url, deep, "application/jose+json").status());
    assertEquals(201, client.post(url, wish).status(), "and all goes on");
  }

  private static String b64(String text) {
    return Base64.getUrlEncoder()
        .withoutPadding()
        .encodeToString(text.getBytes(StandardCharsets.UTF_8));
  }

  private static Optional<Said> maybe(Callable<Said> work) {
    try {
      return Optional.of(work.call());
    } catch (Exception e) {
      return Optional.empty(); // it let go of the connection
    }
  }

  @Test
  void accountsAreWhatTheirKeysSay() throws Exception {
    serve(plan -> plan);
    ObjectNode existing = NOTHING.deepCopy().put("onlyReturnExisting", true);
    assertEquals("accountDoesNotExist", client.register(existing).type());
    ObjectNode odd = NOTHING.deepCopy();
    odd.putArray("contact").add("mailto:a@lanternfish.example?subject=x");
    assertEquals("invalidContact", client.register(odd).type());
    ObjectNode phone = NOTHING.deepCopy();
    phone.putArray("contact").add("tel:+100");
    assertEquals("unsupportedContact", client.register(phone).type());
    Said made = client.register(NOTHING);
    assertEquals(201, made.status());
    Said again = client.register(NOTHING);
    assertEquals(200, again.status());
    assertEquals(made.location(), again.location());
    assertEquals("valid", client.ask(client.account()).status("status"));
    assertEquals(0, client.ask(client.account() + "/orders").json().get("orders").size());

    // Another account's things are another account's.
    RawClient other = new RawClient(served.server.directory(), served.trust());
    assertEquals(201, other.register(NOTHING).status());
    String order = client.order(INGEST).location();
    assertEquals("unauthorized", other.ask(order).type());
    assertEquals("unauthorized", other.ask(client.account()).type());
    assertEquals("unauthorized", other.post(order + "/finalize", "{\"csr\":\"\"}").type());
    assertEquals(1, client.ask(client.account() + "/orders").json().get("orders").size());
    String proof = client.ask(order).json().get("authorizations").get(0).asText();
    assertEquals("unauthorized", other.ask(proof).type());
  }

  @Test
  void anOrderGoesThroughItsStatesAndNoOthers() throws Exception {
    serveWithAccount();
    Said placed = client.order(INGEST);
    assertEquals("pending", placed.status("status"));
    String order = placed.location();
    String finalize = placed.json().get("finalize").asText();
    KeyPair pair = ServedAuthority.pair();
    assertEquals("orderNotReady", client.post(finalize, csr(pair, INGEST)).type());

    String proof = placed.json().get("authorizations").get(0).asText();
    Said shown = client.ask(proof);
    assertEquals(Set.of("http-01", "dns-01", "tls-alpn-01"), types(shown));
    String token = shown.json().get("challenges").get(1).get("token").asText();
    assertTrue(Base64.getUrlDecoder().decode(token).length >= 16, "128 random bits at least");
    String challenge = challenge(shown, "http-01");
    String content =
        token(shown, "http-01") + "." + client.key.calculateBase64urlEncodedThumbprint("SHA-256");
    HttpServer web = HttpServer.create(ServedAuthority.loopback(served.httpPort), 10);
    web.createContext(
        "/.well-known/acme-challenge/" + token(shown, "http-01"),
        exchange -> {
          byte[] body = (content + "\n").getBytes(StandardCharsets.US_ASCII);
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    web.start();
    try {
      Said begun = client.post(challenge, "{}");
      assertTrue(Set.of("processing", "valid").contains(begun.status("status")), begun.json() + "");
      assertEquals("valid", until(proof, "pending").status("status"));
    } finally {
      web.stop(0);
    }
    Said ready = client.ask(order);
    assertEquals("ready", ready.status("status"));
    assertEquals("valid", client.ask(challenge).status("status"));

    // The request must be for these names, with a key of its own.
    assertEquals("badCSR", client.post(finalize, "{\"csr\":\"AAAA\"}").type());
    assertEquals(
        "badCSR", client.post(finalize, csr(pair, INGEST, "catalogue.lanternfish.example")).type());
    KeyPair mine = new KeyPair(client.key.getPublicKey(), client.key.getPrivateKey());
    assertEquals("badCSR", client.post(finalize, csr(mine, INGEST)).type());
    assertEquals("ready", client.ask(order).status("status"), "as it was");

    Said done = client.post(finalize, csr(pair, INGEST));
    assertEquals("valid", done.status("status"));
    assertEquals("orderNotReady", client.post(finalize, csr(pair, INGEST)).type(), "once");
    String certificate = done.json().get("certificate").asText();
    Said chain = client.ask(certificate);
    assertEquals(
        "application/pem-certificate-chain",
        chain.whole().headers().firstValue("Content-Type").orElse(""));
    assertTrue(chain.whole().body().startsWith("-----BEGIN CERTIFICATE-----"));
    RawClient other = new RawClient(served.server.directory(), served.trust());
    assertEquals(201, other.register(NOTHING).status());
    assertEquals("unauthorized", other.ask(certificate).type());
  }

  private static Set<String> types(Said shown) {
    return Set.copyOf(shown.json().get("challenges").findValuesAsText("type"));
  }

  private static String challenge(Said shown, String type) {
    return of(shown, type, "url");
  }

  private static String token(Said shown, String type) {
    return of(shown, type, "token");
  }

  private static String of(Said shown, String type, String name) {
    for (var one : shown.json().get("challenges")) {
      if (one.get("type").asText().equals(type)) {
        return one.get(name).asText();
      }
    }
    throw new AssertionError(type);
  }

  private Said until(String url, String left) throws Exception {
    return await()
        .atMost(Duration.ofMinutes(2))
        .until(() -> client.ask(url), said -> !said.status("status").equals(left));
  }

  private static String csr(KeyPair pair, String... names) {
    CertificateRequest request = ServedAuthority.request(pair, names);
    return "{\"csr\":\""
        + Base64.getUrlEncoder().withoutPadding().encodeToString(request.encoding())
        + "\"}";
  }

  @Test
  void namesThatMayNotBeOrderedAreRefusedEachForItself() throws Exception {
    serve(
        plan ->
            plan.withAllowed(List.of("*.lanternfish.example"))
                .withTerms(URI.create("https://www.lanternfish.example/terms"))
                .withLimits(new RequestLimits(3, 1000, 1000, 1000, 1000)));
    Said terms = client.register(NOTHING);
    assertEquals("userActionRequired", terms.type());
    assertEquals("https://www.lanternfish.example/terms", terms.status("instance"));
    assertEquals(
        201, client.register(NOTHING.deepCopy().put("termsOfServiceAgreed", true)).status());
    assertEquals("rejectedIdentifier", client.order("www.kelp.example").type());
    assertEquals("rejectedIdentifier", client.order("lanternfish.example").type());
    assertEquals("rejectedIdentifier", client.order("INGEST.lanternfish.example").type());
    assertEquals("rejectedIdentifier", client.order("a..lanternfish.example").type());
    Said two = client.order("www.kelp.example", INGEST, "shop.kelp.example");
    assertEquals("compound", two.type());
    assertEquals(2, two.json().get("subproblems").size());
    assertEquals(
        "unsupportedIdentifier",
        client
            .post(
                client.address("newOrder"),
                "{\"identifiers\":[{\"type\":\"email\",\"value\":\"a@lanternfish.example\"}]}")
            .type());
    assertEquals("malformed", client.order().type());

    // A wildcard is proven in the DNS alone.
    Said wildcard = client.order("*.lanternfish.example");
    Said shown = client.ask(wildcard.json().get("authorizations").get(0).asText());
    assertEquals(Set.of("dns-01"), types(shown));
    assertTrue(shown.json().get("wildcard").asBoolean());
    assertEquals("lanternfish.example", shown.json().get("identifier").get("value").asText());

    // Three an hour, and then the time to wait is told.
    assertEquals(201, client.order(INGEST).status());
    assertEquals(201, client.order(INGEST).status());
    Said limited = client.order(INGEST);
    assertEquals("rateLimited", limited.type());
    assertEquals(429, limited.status());
    assertTrue(limited.whole().headers().firstValue("Retry-After").isPresent());
  }

  @Test
  void onlyKnownKeysAndOnlyWhoIsKnownElsewhere() throws Exception {
    byte[] shared = "a key that both sides know, 32 B".getBytes(StandardCharsets.US_ASCII);
    serve(plan -> plan.withExternalKeys(Map.of("buoys", shared)));
    assertEquals("externalAccountRequired", client.register(NOTHING).type());
    assertEquals("unauthorized", client.register(bound("kelp", shared)).type());
    assertEquals("unauthorized", client.register(bound("buoys", new byte[32])).type());
    assertEquals(201, client.register(bound("buoys", shared)).status());
  }

  private ObjectNode bound(String keyId, byte[] shared) throws Exception {
    JsonWebSignature jws = new JsonWebSignature();
    jws.setAlgorithmHeaderValue("HS256");
    jws.setKey(new javax.crypto.spec.SecretKeySpec(shared, "HmacSHA256"));
    jws.setKeyIdHeaderValue(keyId);
    jws.setHeader("url", client.address("newAccount"));
    jws.setPayload(client.key.toJson());
    String[] parts = jws.getCompactSerialization().split("\\.", -1);
    ObjectNode wish = NOTHING.deepCopy();
    wish.putObject("externalAccountBinding")
        .put("protected", parts[0])
        .put("payload", parts[1])
        .put("signature", parts[2]);
    return wish;
  }

  /** Clients that begin and never go on: the others are served meanwhile. */
  @Test
  void whoSendsNothingKeepsNobodyOut() throws Exception {
    serveWithAccount();
    List<Socket> hanging = new ArrayList<>();
    try {
      for (int i = 0; i < 200; i++) {
        Socket one = new Socket();
        one.connect(served.server.address());
        if (i % 2 == 0) {
          one.getOutputStream().write(new byte[] {22, 3, 1, 2, 0, 1}); // half a greeting
        }
        hanging.add(one);
      }
      assertEquals(201, client.order(INGEST).status());
    } finally {
      for (Socket one : hanging) {
        one.close();
      }
    }
  }

  /** Many at once: each order is placed once, nothing is lost, and others are served. */
  @Test
  void manyOrderAtOnce() throws Exception {
    serveWithAccount();
    var pool = Executors.newFixedThreadPool(20);
    try {
      List<Callable<String>> all = new ArrayList<>();
      for (int i = 0; i < 100; i++) {
        all.add(() -> client.order(INGEST).location());
      }
      var placed = new java.util.HashSet<String>();
      for (var one : pool.invokeAll(all)) {
        placed.add(one.get());
      }
      placed.remove("");
      assertEquals(100, placed.size());
      Said first = client.ask(client.account() + "/orders");
      assertEquals(100, first.json().get("orders").size());
      assertFalse(first.whole().headers().allValues("Link").toString().contains("next"));
    } finally {
      pool.shutdownNow();
    }
  }
}
