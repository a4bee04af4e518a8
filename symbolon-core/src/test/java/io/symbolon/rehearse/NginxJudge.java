// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.NginxProgram;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * What a real nginx says of a server's chain when it is the client: it stands before servers of its
 * own that show the chains, and verifies them.
 */
final class NginxJudge implements AutoCloseable {
  private final Process process;
  private final Path log;
  private final int port;
  private final HttpClient client = HttpClient.newHttpClient();

  /**
   * Starts it.
   *
   * @param home a folder for its files; a short path, because sockets lie in it
   * @param host the name that each server is asked for
   * @param chains folders with chain.pem, key.pem and trust.pem
   */
  NginxJudge(Path home, String host, List<Path> chains) throws IOException {
    port = FreePort.take();
    log = home.resolve("log");
    StringBuilder servers = new StringBuilder();
    StringBuilder locations = new StringBuilder();
    for (int i = 0; i < chains.size(); i++) {
      servers.append(
          """
          server {
            listen unix:%1$s/%2$d.sock ssl;
            ssl_certificate %3$s/chain.pem;
            ssl_certificate_key %3$s/key.pem;
            location / { return 200 "17 buoys reporting"; }
          }
          """
              .formatted(home, i, chains.get(i)));
      locations.append(
          """
          location = /%2$d {
            proxy_pass https://unix:%1$s/%2$d.sock;
            proxy_ssl_trusted_certificate %3$s/trust.pem;
          }
          """
              .formatted(home, i, chains.get(i)));
    }
    process =
        NginxProgram.start(
            home,
            log,
            port,
            """
            %s
            server {
              listen 127.0.0.1:%d;
              proxy_ssl_verify on;
              proxy_ssl_verify_depth 100;
              proxy_ssl_name %s;
              proxy_ssl_server_name on;
              proxy_ssl_session_reuse off;
              %s
            }
            """
                .formatted(servers, port, host, locations));
  }

  /** "accepted", or "refused" and what it wrote to its log about it. */
  String judge(int chain) throws IOException, InterruptedException {
    URI uri = URI.create("http://localhost:" + port + "/" + chain);
    int status =
        client
            .send(HttpRequest.newBuilder(uri).build(), HttpResponse.BodyHandlers.discarding())
            .statusCode();
    return switch (status) {
      case 200 -> "accepted";
      case 502 -> "refused " + reason("/" + chain + ".sock:");
      default -> throw new IOException("nginx answers " + status + ": " + Files.readString(log));
    };
  }

  private String reason(String server) throws IOException {
    return Files.readAllLines(log).stream()
        .filter(line -> line.contains(server))
        .reduce((first, second) -> second)
        .map(line -> line.replaceAll("^.*?\\*\\d+ | while SSL handshaking.*$", ""))
        .orElse("without a word");
  }

  @Override
  public void close() {
    process.destroy();
    process.onExit().join(); // it removes its sockets
  }
}
