// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.file.SafeRead;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Published;
import io.symbolon.pem.PemReader;
import io.symbolon.x509.HostName;
import java.io.FileNotFoundException;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.ThreadPoolExecutor;

/**
 * The revocation list and the authority's certificate over plain HTTP, as clients fetch them: both
 * are signed, and whoever checks a certificate can't need one for that.
 */
final class PublishedFiles implements AutoCloseable {
  private static final String LIST = "/revocations.crl";
  private static final String CERTIFICATE = "/authority.cer";
  private static final int LIST_OCTETS = 48 << 20;
  private static final int THREADS = 128;
  private static final int WAITING = 200;

  private final HttpServer server;
  private final ThreadPoolExecutor threads;
  private final AuthorityFolder folder;
  private final Published published;

  private PublishedFiles(
      HttpServer server, ThreadPoolExecutor threads, AuthorityFolder folder, Published published) {
    this.server = server;
    this.threads = threads;
    this.folder = folder;
    this.published = published;
  }

  static PublishedFiles start(AuthorityFolder folder, HostName host, InetSocketAddress where) {
    HttpServer server;
    try {
      server = HttpServer.create(where, WAITING);
    } catch (IOException e) {
      throw AuthorityServer.notListening(where, e);
    }
    int port = server.getAddress().getPort();
    String base = "http://" + host.inUrl() + (port == 80 ? "" : ":" + port);
    Published published =
        new Published(
            Optional.of(URI.create(base + LIST)), Optional.of(URI.create(base + CERTIFICATE)));
    ThreadPoolExecutor threads = Daemons.pool("symbolon-files", THREADS, WAITING);
    PublishedFiles files = new PublishedFiles(server, threads, folder, published);
    server.setExecutor(threads);
    server.createContext("/", files::answer);
    server.start();
    return files;
  }

  /** Where they are. */
  Published published() {
    return published;
  }

  /** The list as it lies in the folder, in DER (RFC 5280, 4.2.1.13). */
  static byte[] list(AuthorityFolder folder) throws IOException {
    Path file = folder.folder().resolve(AuthorityFolder.REVOCATIONS);
    return PemReader.read(SafeRead.named(file, LIST_OCTETS, LIST_OCTETS).octets()).blocks().stream()
        .findFirst()
        .orElseThrow(() -> new FileNotFoundException("no list"))
        .content();
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      String path = String.valueOf(exchange.getRequestURI().getPath());
      boolean reads =
          exchange.getRequestMethod().equals("GET") || exchange.getRequestMethod().equals("HEAD");
      if (!reads || !(path.equals(LIST) || path.equals(CERTIFICATE))) {
        exchange.sendResponseHeaders(404, -1);
        return;
      }
      boolean list = path.equals(LIST);
      byte[] octets = list ? list(folder) : folder.certificate().encoding();
      exchange
          .getResponseHeaders()
          .set("Content-Type", list ? "application/pkix-crl" : "application/pkix-cert");
      boolean head = exchange.getRequestMethod().equals("HEAD");
      exchange.sendResponseHeaders(200, head ? -1 : octets.length);
      if (!head) {
        exchange.getResponseBody().write(octets);
      }
    }
  }

  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
