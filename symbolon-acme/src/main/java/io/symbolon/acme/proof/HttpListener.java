// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.failure.Reason;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.net.BindException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * A file over HTTP (RFC 8555, 8.3), served by a listener of our own for as long as something is to
 * be shown. It answers for these files and for nothing else.
 */
public final class HttpListener implements Proof {
  /** Where the files are looked for. */
  static final String FOLDER = "/.well-known/acme-challenge/";

  private static final int WAITING = 50;

  private final InetSocketAddress address;
  private final Map<String, String> shown = new ConcurrentHashMap<>();
  private Optional<Running> running = Optional.empty();

  private record Running(HttpServer server, ExecutorService threads) {}

  /**
   * A listener.
   *
   * @param address where it listens; the authority looks at port 80
   */
  public HttpListener(InetSocketAddress address) {
    this.address = address;
  }

  @Override
  public String type() {
    return "http-01";
  }

  @Override
  public String title() {
    return "a file over HTTP, served here on port " + address.getPort();
  }

  @Override
  public boolean suits(Identifier name, boolean wildcard) {
    return !wildcard;
  }

  @Override
  public synchronized Shown show(Task task) {
    if (running.isEmpty()) {
      running = Optional.of(start(task));
    }
    shown.put(task.token(), task.authorization());
    return () -> away(task.token());
  }

  private synchronized void away(String token) {
    shown.remove(token);
    if (shown.isEmpty() && running.isPresent()) {
      running.get().server().stop(0);
      running.get().threads().shutdownNow();
      running = Optional.empty();
    }
  }

  private Running start(Task task) {
    try {
      HttpServer server = HttpServer.create(address, WAITING);
      ExecutorService threads = Executors.newFixedThreadPool(4, Daemons.named("symbolon-proof"));
      server.setExecutor(threads);
      server.createContext("/", this::answer);
      server.start();
      return new Running(server, threads);
    } catch (IOException | IllegalArgumentException e) {
      boolean taken =
          e instanceof BindException && String.valueOf(e.getMessage()).contains("in use");
      throw ProofFailure.of(
          task,
          Reason.NOT_WRITABLE,
          "The address "
              + VisibleText.of(address.getHostString())
              + ":"
              + address.getPort()
              + (taken
                  ? " is taken by another program."
                  : " can't be listened on: " + VisibleText.of(String.valueOf(e.getMessage()))),
          taken
              ? "If it is a web server, let the file be put into its document folder: "
                  + Input.PROOF.mention()
                  + " folder=PATH. Else stop that program for a moment."
              : "Ports below 1024 need the rights of root. Or let the file be put into the document"
                  + " folder of a web server: "
                  + Input.PROOF.mention("folder=PATH"),
          e);
    }
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      String path = exchange.getRequestURI().getPath();
      String content =
          exchange.getRequestMethod().equals("GET") && path != null && path.startsWith(FOLDER)
              ? shown.get(path.substring(FOLDER.length()))
              : null;
      if (content == null) {
        exchange.sendResponseHeaders(404, -1);
        return;
      }
      byte[] octets = content.getBytes(StandardCharsets.US_ASCII);
      exchange.getResponseHeaders().set("Content-Type", "application/octet-stream");
      exchange.sendResponseHeaders(200, octets.length);
      exchange.getResponseBody().write(octets);
    }
  }
}
