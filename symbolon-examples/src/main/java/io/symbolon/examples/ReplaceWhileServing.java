// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.PeerRule;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * A server of mutual TLS whose certificate is replaced while it serves: from files that are read
 * again on call (a {@code watch} does it by itself), with a rule for which of the trusted clients
 * are let in.
 */
public final class ReplaceWhileServing {
  private static final PeerRule BUOYS = PeerRule.subject("OU=buoys");

  private final Authority root =
      Authority.root(
          DistinguishedName.parse("CN=Lanternfish Root,O=Lanternfish Observatory"),
          KeyKind.EC_P256,
          Instant.now(),
          Duration.ofDays(30),
          new SecureRandom());
  private final Path server = Files.createTempDirectory("symbolon-serve").resolve("server.pem");

  private ReplaceWhileServing() throws IOException {}

  /** Serves, replaces the certificate, tries a broken file, and a client that the rule refuses. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    new ReplaceWhileServing().run();
  }

  private void run() throws IOException, InterruptedException {
    write(issue("CN=ingest", Use.SERVER));
    Path trust = server.resolveSibling("clients.pem");
    Files.write(trust, pem(root.certificate()));
    ReloadingTls tls =
        ReloadingTls.of(
            TlsFiles.server(server).withTrust(trust).withTerms(setup -> setup.accepting(BUOYS)));
    HttpsServer listening =
        HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    listening.setHttpsConfigurator(new HttpsConfigurator(tls.context()));
    listening.createContext(
        "/",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(204, -1);
          }
        });
    listening.start();
    try {
      int port = listening.getAddress().getPort();
      Credential buoy = issue("CN=buoy-017,OU=buoys", Use.CLIENT);
      System.out.println("served with " + serial(call(port, buoy)));
      write(issue("CN=ingest", Use.SERVER));
      System.out.println("reload: " + tls.reload().outcome());
      System.out.println("served with " + serial(call(port, buoy)));
      Files.writeString(server, "half of a fi");
      ReloadReport refused = tls.reload();
      System.out.println("reload: " + refused.outcome());
      System.out.println("  " + refused.findings().get(0).statement());
      System.out.println("served with " + serial(call(port, buoy)));
      Credential ship = issue("CN=ship-2,OU=ships", Use.CLIENT);
      try {
        call(port, ship);
      } catch (IOException e) {
        System.out.println("not served: " + BUOYS.refusal(ship.certificate()).orElseThrow());
      }
    } finally {
      listening.stop(0);
    }
  }

  private Credential issue(String subject, Use use) {
    return root.issue(
        DistinguishedName.parse(subject),
        KeyKind.EC_P256,
        use == Use.SERVER ? List.of(HostName.parse("127.0.0.1")) : List.of(),
        use,
        Instant.now(),
        Duration.ofDays(30));
  }

  private void write(Credential credential) {
    ByteArrayOutputStream file = new ByteArrayOutputStream();
    file.writeBytes(PemText.openKey(credential));
    file.writeBytes(pem(credential.certificate()));
    SafeFile.write(server, file.toByteArray(), Privacy.OWNER_ONLY, Existing.REPLACE);
  }

  private static byte[] pem(Certificate certificate) {
    return PemText.certificates(List.of(certificate)).getBytes(StandardCharsets.US_ASCII);
  }

  private Certificate call(int port, Credential shown) throws IOException, InterruptedException {
    TlsSetup setup = TlsSetup.client(Trust.in(root.certificate())).withCredentials(shown);
    HttpClient client = HttpClient.newBuilder().sslContext(setup.context()).build();
    HttpRequest request =
        HttpRequest.newBuilder(URI.create("https://127.0.0.1:" + port + "/"))
            .timeout(Duration.ofMinutes(1))
            .build();
    HttpResponse<Void> response = client.send(request, HttpResponse.BodyHandlers.discarding());
    return Certificate.of(response.sslSession().orElseThrow().getPeerCertificates()[0]);
  }

  private static String serial(Certificate certificate) {
    return "the certificate " + certificate.serialHex().substring(0, 8);
  }
}
