// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsParameters;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.Material;
import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import javax.net.ssl.HttpsURLConnection;
import javax.net.ssl.SSLException;

/**
 * From a pile of files to a server of mutual TLS whose files are read again while it serves. Run it
 * with the folder of the pile; without arguments it makes one.
 */
public final class PileToServer {
  private PileToServer() {}

  /** Serves, calls with and without a certificate, and reloads. */
  public static void main(String[] arguments) throws IOException {
    Path pile = arguments.length > 0 ? Path.of(arguments[0]) : JoinPile.makePile();

    // Who may call: clients of this authority, and nobody else.
    Authority fleet =
        Authority.root(
            DistinguishedName.parse("CN=Lanternfish Fleet"),
            KeyKind.EC_P256,
            Instant.now(),
            Duration.ofDays(30),
            new SecureRandom());

    // The setup is made from the pile, now and whenever it is to be read again.
    ReloadingTls tls = ReloadingTls.of(() -> setup(pile, Trust.in(fleet.certificate())));

    HttpsServer server =
        HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setHttpsConfigurator(
        new HttpsConfigurator(tls.context()) {
          @Override
          public void configure(HttpsParameters parameters) {
            parameters.setSSLParameters(tls.setup().parameters());
          }
        });
    server.createContext(
        "/",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(204, -1);
          }
        });
    server.start();
    try {
      int port = server.getAddress().getPort();
      Trust authorities = Material.read(pile).trust();
      Credential buoy =
          fleet.issue(
              DistinguishedName.parse("CN=buoy-017"),
              KeyKind.EC_P256,
              List.of(),
              Use.CLIENT,
              Instant.now(),
              Duration.ofDays(7));
      System.out.println(
          "with a certificate: "
              + call(port, TlsSetup.client(authorities).withCredentials(buoy).withoutHostCheck()));
      try {
        System.out.println(
            "without one: " + call(port, TlsSetup.client(authorities).withoutHostCheck()));
      } catch (SSLException e) {
        System.out.println("without one: refused");
      } catch (IOException e) {
        System.out.println("without one: refused (the connection was closed)");
      }
      ReloadReport report = tls.reload();
      System.out.println("read again: " + report.outcome());
    } finally {
      server.stop(0);
    }
  }

  private static TlsSetup setup(Path pile, Trust clients) {
    Material material = Material.read(pile);
    for (Finding finding : material.findings()) {
      System.out.println(finding.level().word() + ": " + finding.statement());
    }
    return TlsSetup.server(material.credential()).requiringClients(clients);
  }

  private static int call(int port, TlsSetup client) throws IOException {
    HttpsURLConnection connection =
        (HttpsURLConnection) URI.create("https://127.0.0.1:" + port + "/").toURL().openConnection();
    connection.setSSLSocketFactory(client.context().getSocketFactory());
    // Only here, where the server of the example has no name: its chain is checked all the same.
    connection.setHostnameVerifier((host, session) -> true);
    connection.setConnectTimeout(60_000);
    connection.setReadTimeout(60_000);
    return connection.getResponseCode();
  }
}
