// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.issue.Published;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Base64;
import java.util.Optional;
import java.util.concurrent.ThreadPoolExecutor;

/**
 * The revocation list and the authority's certificate over plain HTTP, as clients fetch them: both
 * are signed, and whoever checks a certificate can't need one for that.
 */
final class PublishedFiles implements AutoCloseable {
  private static final String LIST = "/revocations.crl";
  private static final String CERTIFICATE = "/authority.cer";
  private static final String STATUS = "/status";
  private static final int QUESTION = 16 << 10; // octets
  private static final int THREADS = 128;
  private static final int WAITING = 200;

  private final HttpServer server;
  private final ThreadPoolExecutor threads;
  private final AuthorityFolder folder;
  private final StatusDesk status;
  private final CurrentList list;
  private final Published published;

  private PublishedFiles(
      HttpServer server,
      ThreadPoolExecutor threads,
      AuthorityFolder folder,
      StatusDesk status,
      CurrentList list,
      Published published) {
    this.server = server;
    this.threads = threads;
    this.folder = folder;
    this.status = status;
    this.list = list;
    this.published = published;
  }

  static PublishedFiles start(
      SigningAuthority signing,
      CurrentList list,
      HostName host,
      InetSocketAddress where,
      Clock clock) {
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
            Optional.of(URI.create(base + LIST)),
            Optional.of(URI.create(base + CERTIFICATE)),
            Optional.of(URI.create(base + STATUS)));
    ThreadPoolExecutor threads = Daemons.pool("symbolon-files", THREADS, WAITING);
    PublishedFiles files =
        new PublishedFiles(
            server, threads, signing.folder(), new StatusDesk(signing, clock), list, published);
    server.setExecutor(threads);
    server.createContext("/", files::answer);
    server.start();
    return files;
  }

  /** Where they are. */
  Published published() {
    return published;
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      String path = String.valueOf(exchange.getRequestURI().getPath());
      if (path.equals(STATUS) || path.startsWith(STATUS + "/")) {
        answerStatus(exchange);
        return;
      }
      boolean reads =
          exchange.getRequestMethod().equals("GET") || exchange.getRequestMethod().equals("HEAD");
      if (!reads || !(path.equals(LIST) || path.equals(CERTIFICATE))) {
        exchange.sendResponseHeaders(404, -1);
        return;
      }
      boolean isList = path.equals(LIST);
      Optional<byte[]> found = isList ? list.der() : Optional.of(folder.certificate().encoding());
      if (found.isEmpty()) {
        exchange.sendResponseHeaders(503, -1);
        return;
      }
      byte[] octets = found.get();
      exchange
          .getResponseHeaders()
          .set("Content-Type", isList ? "application/pkix-crl" : "application/pkix-cert");
      boolean head = exchange.getRequestMethod().equals("HEAD");
      exchange.sendResponseHeaders(200, head ? -1 : octets.length);
      if (!head) {
        exchange.getResponseBody().write(octets);
      }
    }
  }

  /** In the body, or behind the address in Base64 (RFC 6960, appendix A). */
  private void answerStatus(HttpExchange exchange) throws IOException {
    byte[] question;
    if (exchange.getRequestMethod().equals("POST")) {
      question = exchange.getRequestBody().readNBytes(QUESTION + 1);
    } else if (exchange.getRequestMethod().equals("GET")) {
      question = behindAddress(exchange.getRequestURI().getRawPath());
    } else {
      exchange.sendResponseHeaders(405, -1);
      return;
    }
    if (question.length > QUESTION) {
      exchange.sendResponseHeaders(413, -1);
      return;
    }
    byte[] answer = status.answer(question);
    exchange.getResponseHeaders().set("Content-Type", "application/ocsp-response");
    exchange.sendResponseHeaders(200, answer.length);
    exchange.getResponseBody().write(answer);
  }

  private static byte[] behindAddress(String path) {
    try {
      // A plus sign stands for itself in a path, and some clients leave slashes as they are.
      String text =
          URLDecoder.decode(
              path.substring(Math.min(path.length(), STATUS.length() + 1)).replace("+", "%2B"),
              StandardCharsets.US_ASCII);
      return Base64.getDecoder().decode(text.replaceFirst("^/+", ""));
    } catch (IllegalArgumentException e) {
      return new byte[0]; // no question
    }
  }

  @Override
  public void close() {
    server.stop(0);
    threads.shutdownNow();
  }
}
