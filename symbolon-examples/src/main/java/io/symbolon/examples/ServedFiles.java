// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
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

/** What the examples of servers have in common: an authority, a server's files, and a client. */
final class ServedFiles {
  private final Authority root =
      Authority.root(
          DistinguishedName.parse("CN=Lanternfish Root,O=Lanternfish Observatory"),
          KeyKind.EC_P256,
          Instant.now(),
          Duration.ofDays(30),
          new SecureRandom());
  private final Path server;
  private final Path clients;

  ServedFiles() throws IOException {
    server = Files.createTempDirectory("symbolon-serve").resolve("server.pem");
    clients = server.resolveSibling("clients.pem");
    renew();
    Files.write(clients, pem(root.certificate()));
  }

  /** The key and the certificate of the server, in one file. */
  Path server() {
    return server;
  }

  /** The authorities of its clients. */
  Path clients() {
    return clients;
  }

  /** A key and a certificate of a client. */
  Credential client(String subject) {
    return issue(subject, Use.CLIENT, List.of());
  }

  /** Replaces the server's key and certificate by new ones. */
  void renew() {
    Credential credential = issue("CN=ingest", Use.SERVER, List.of(HostName.parse("127.0.0.1")));
    ByteArrayOutputStream file = new ByteArrayOutputStream();
    file.writeBytes(PemText.openKey(credential));
    file.writeBytes(pem(credential.certificate()));
    SafeFile.write(server, file.toByteArray(), Privacy.OWNER_ONLY, Existing.REPLACE);
  }

  private Credential issue(String subject, Use use, List<HostName> hosts) {
    return root.issue(
        DistinguishedName.parse(subject),
        KeyKind.EC_P256,
        hosts,
        use,
        Instant.now(),
        Duration.ofDays(30));
  }

  private static byte[] pem(Certificate certificate) {
    return PemText.certificates(List.of(certificate)).getBytes(StandardCharsets.US_ASCII);
  }

  /** Asks the server as a client, and tells with which certificate it was served. */
  String call(int port, Credential shown) throws IOException, InterruptedException {
    TlsSetup setup = TlsSetup.client(Trust.in(root.certificate())).withCredentials(shown);
    HttpClient client = HttpClient.newBuilder().sslContext(setup.context()).build();
    HttpRequest request =
        HttpRequest.newBuilder(URI.create("https://127.0.0.1:" + port + "/"))
            .timeout(Duration.ofMinutes(1))
            .build();
    HttpResponse<Void> response = client.send(request, HttpResponse.BodyHandlers.discarding());
    Certificate served =
        Certificate.of(response.sslSession().orElseThrow().getPeerCertificates()[0]);
    return "the certificate " + served.serialHex().substring(0, 8);
  }
}
