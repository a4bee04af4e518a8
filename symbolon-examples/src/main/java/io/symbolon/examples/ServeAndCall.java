// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.chain.Credential;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import javax.net.ssl.SSLContext;

/**
 * Serving and calling HTTPS with a credential and the trust in its authority: the platform's server
 * and client, with contexts from {@link TlsSetup}. Everything stays on the loopback interface.
 */
public final class ServeAndCall {
  private ServeAndCall() {}

  /** Serves one page, gets it, and shows that a client without the trust does not. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    Authority root =
        Authority.root(
            DistinguishedName.parse("CN=Lanternfish Root,O=Lanternfish Observatory"),
            KeyKind.EC_P256,
            Instant.now(),
            Duration.ofDays(30),
            new SecureRandom());
    Credential server =
        root.issue(
            DistinguishedName.parse("CN=catalogue.lanternfish.example"),
            KeyKind.EC_P256,
            List.of(HostName.parse("catalogue.lanternfish.example"), HostName.parse("127.0.0.1")),
            Use.SERVER,
            Instant.now(),
            Duration.ofDays(30));
    System.out.println(call(server, root.certificate()));
    Authority stranger =
        Authority.root(
            DistinguishedName.parse("CN=Stranger Root"),
            KeyKind.EC_P256,
            Instant.now(),
            Duration.ofDays(30),
            new SecureRandom());
    try {
      System.out.println(call(server, stranger.certificate()));
    } catch (IOException e) {
      System.out.println("without the right trust: " + e.getMessage());
    }
  }

  /** Serves a page with the credential and gets it as a client that trusts one certificate. */
  static String call(Credential credential, Certificate trusted)
      throws IOException, InterruptedException {
    HttpsServer server =
        HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setHttpsConfigurator(new HttpsConfigurator(TlsSetup.server(credential).context()));
    byte[] page = "42,000 readings catalogued".getBytes(StandardCharsets.UTF_8);
    server.createContext(
        "/",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(200, page.length);
            exchange.getResponseBody().write(page);
          }
        });
    server.start();
    try {
      SSLContext context = TlsSetup.client(Trust.in(trusted)).context();
      HttpClient client = HttpClient.newBuilder().sslContext(context).build();
      URI address = URI.create("https://127.0.0.1:" + server.getAddress().getPort() + "/");
      HttpRequest request = HttpRequest.newBuilder(address).timeout(Duration.ofMinutes(1)).build();
      return client.send(request, HttpResponse.BodyHandlers.ofString()).body();
    } finally {
      server.stop(0);
    }
  }
}
