// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.Optional;
import java.util.function.Consumer;
import javax.net.ssl.SSLContext;
import org.jose4j.jwk.EcJwkGenerator;
import org.jose4j.jwk.EllipticCurveJsonWebKey;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.keys.EllipticCurves;

/**
 * A client made of the general libraries alone, which can also say what no good client says: it
 * judges the authority, and shares no code with it.
 */
final class RawClient {
  static final ObjectMapper JSON = new ObjectMapper();

  final EllipticCurveJsonWebKey key;
  private final HttpClient http;
  private final JsonNode directory;
  private Optional<String> account = Optional.empty();

  RawClient(String directory, SSLContext trust) throws Exception {
    this.http = HttpClient.newBuilder().sslContext(trust).build();
    this.key = EcJwkGenerator.generateJwk(EllipticCurves.P256);
    this.directory = JSON.readTree(get(directory).body());
  }

  /** What was answered. */
  record Said(int status, JsonNode json, HttpResponse<String> whole) {
    String type() {
      return json.path("type").asText().replace("urn:ietf:params:acme:error:", "");
    }

    String location() {
      return whole.headers().firstValue("Location").orElse("");
    }

    String status(String name) {
      return json.path(name).asText();
    }
  }

  HttpResponse<String> get(String url) throws Exception {
    return http.send(HttpRequest.newBuilder(URI.create(url)).build(), BodyHandlers.ofString());
  }

  String address(String name) {
    return directory.get(name).asText();
  }

  String nonce() throws Exception {
    HttpRequest head =
        HttpRequest.newBuilder(URI.create(address("newNonce")))
            .method("HEAD", HttpRequest.BodyPublishers.noBody())
            .build();
    HttpResponse<String> answer = http.send(head, BodyHandlers.ofString());
    return answer.headers().firstValue("Replay-Nonce").orElseThrow();
  }

  Said register(ObjectNode wish) throws Exception {
    Said said = post(address("newAccount"), wish.toString(), jws -> withKey(jws));
    account = said.location().isEmpty() ? Optional.empty() : Optional.of(said.location());
    return said;
  }

  void withKey(JsonWebSignature jws) {
    jws.getHeaders().setJwkHeaderValue("jwk", key);
  }

  void withAccount(JsonWebSignature jws) {
    jws.setKeyIdHeaderValue(account.orElseThrow());
  }

  String account() {
    return account.orElseThrow();
  }

  Said post(String url, String payload) throws Exception {
    return post(url, payload, this::withAccount);
  }

  /** Asks with an empty content. */
  Said ask(String url) throws Exception {
    return post(url, "");
  }

  Said post(String url, String payload, Consumer<JsonWebSignature> header) throws Exception {
    return send(url, message(url, payload, nonce(), header), "application/jose+json");
  }

  ObjectNode message(String url, String payload, String nonce, Consumer<JsonWebSignature> header)
      throws Exception {
    JsonWebSignature jws = new JsonWebSignature();
    jws.setAlgorithmHeaderValue("ES256");
    jws.setKey(key.getPrivateKey());
    jws.setHeader("nonce", nonce);
    jws.setHeader("url", url);
    header.accept(jws);
    jws.setPayload(payload);
    String[] parts = jws.getCompactSerialization().split("\\.", -1);
    return JSON.createObjectNode()
        .put("protected", parts[0])
        .put("payload", parts[1])
        .put("signature", parts[2]);
  }

  Said send(String url, ObjectNode message, String type) throws Exception {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(url))
            .header("Content-Type", type)
            .POST(HttpRequest.BodyPublishers.ofString(message.toString()))
            .build();
    HttpResponse<String> answer = http.send(request, BodyHandlers.ofString());
    boolean isJson = answer.headers().firstValue("Content-Type").orElse("").contains("json");
    return new Said(
        answer.statusCode(),
        isJson ? JSON.readTree(answer.body()) : JSON.createObjectNode(),
        answer);
  }

  Said order(String... names) throws Exception {
    ObjectNode wish = JSON.createObjectNode();
    var all = wish.putArray("identifiers");
    for (String name : names) {
      all.addObject().put("type", "dns").put("value", name);
    }
    return post(address("newOrder"), wish.toString());
  }
}
