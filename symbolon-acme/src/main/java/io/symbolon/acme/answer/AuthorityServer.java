// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.acme.wire.ProblemJson;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.InputStream;
import java.net.BindException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ThreadPoolExecutor;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Answers RFC 8555 over HTTPS for an authority. What is asked at once, what waits, and what one
 * question may hold are bounded; whoever can't be served is let go of, and the others are served.
 * Thread-safe.
 */
public final class AuthorityServer implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(AuthorityServer.class);
  private static final int THREADS =
      512; // each waits for one client: a slow one must not keep the others out
  private static final int WAITING = 400;
  private static final int QUESTION = 256 << 10; // octets of one question

  private final HttpsServer server;
  private final Gate gate;
  private final ThreadPoolExecutor threads;
  private final ServerCertificate certificate;
  private final Router router;
  private final Nonces nonces;
  private final Addresses addresses;
  private final CurrentList list;
  private final Optional<PublishedFiles> files;

  private AuthorityServer(
      HttpsServer server,
      Gate gate,
      ThreadPoolExecutor threads,
      ServerCertificate certificate,
      Router router,
      Nonces nonces,
      Addresses addresses,
      CurrentList list,
      Optional<PublishedFiles> files) {
    this.server = server;
    this.gate = gate;
    this.threads = threads;
    this.certificate = certificate;
    this.router = router;
    this.nonces = nonces;
    this.addresses = addresses;
    this.list = list;
    this.files = files;
  }

  /**
   * Properties of the whole process that suit it, which its program sets before the first server of
   * the JDK begins: a client that sends slowly, or not at all, holds a connection no longer than so
   * many seconds, and no short answer waits for the other side's word. A program that embeds an
   * authority decides itself, since they hold for its other servers as well.
   */
  public static final Map<String, String> PROCESS_SETTINGS =
      Map.of(
          "sun.net.httpserver.maxReqTime", "15",
          "sun.net.httpserver.maxRspTime", "15",
          "sun.net.httpserver.nodelay", "true");

  /**
   * Starts it.
   *
   * @param plain the authority
   * @param records what it has on record
   * @param plan how it answers
   * @param random where random numbers come from
   * @return the running server
   * @throws SymbolonException if the address can't be listened on
   */
  @SuppressWarnings("exports") // only who may see the records can start it
  public static AuthorityServer start(
      SigningAuthority plain, Records records, AnswerPlan plan, SecureRandom random, Clock clock) {
    HttpsServer server;
    Gate gate;
    try {
      server =
          HttpsServer.create(
              new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), Gate.CONNECTIONS);
      gate = Gate.open(plan.listen(), server.getAddress());
    } catch (IOException e) {
      throw notListening(plan.listen(), e);
    }
    CurrentList list = new CurrentList(plain, clock);
    Optional<PublishedFiles> files = Optional.empty();
    try {
      files =
          plan.files().map(where -> PublishedFiles.start(plain, list, plan.host(), where, clock));
      return started(server, gate, files, list, plain, records, plan, random, clock);
    } catch (RuntimeException e) {
      list.close();
      files.ifPresent(PublishedFiles::close);
      gate.close();
      server.stop(0);
      throw e;
    }
  }

  private static AuthorityServer started(
      HttpsServer server,
      Gate gate,
      Optional<PublishedFiles> files,
      CurrentList list,
      SigningAuthority plain,
      Records records,
      AnswerPlan plan,
      SecureRandom random,
      Clock clock) {
    SigningAuthority signing = files.map(one -> plain.publishing(one.published())).orElse(plain);
    ServerCertificate certificate = ServerCertificate.of(signing, plan.host(), clock);
    Addresses addresses = new Addresses(plan.host(), gate.address().getPort());
    records.waitForMomentsOnly();
    Nonces nonces = new Nonces(records, NonceKey.of(signing), random, clock);
    Router router = Router.of(signing, records, plan, addresses, nonces, list, random, clock);
    ThreadPoolExecutor threads = Daemons.pool("symbolon-answers", THREADS, WAITING);
    AuthorityServer running =
        new AuthorityServer(
            server, gate, threads, certificate, router, nonces, addresses, list, files);
    server.setHttpsConfigurator(new HttpsConfigurator(certificate.context()));
    server.setExecutor(threads);
    server.createContext("/", running::answer);
    server.start();
    router.resume();
    return running;
  }

  static SymbolonException notListening(InetSocketAddress address, IOException e) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The authority does not answer.",
        "The address "
            + VisibleText.of(address.getHostString())
            + ":"
            + address.getPort()
            + (e instanceof BindException
                ? " can't be listened on: "
                : " is not an address of this machine: ")
            + VisibleText.of(String.valueOf(e.getMessage())),
        "Choose another port, or stop the program that has it: "
            + Input.LISTEN.mention("ADDRESS:PORT"),
        e);
  }

  /** {@return the address of its directory} */
  public String directory() {
    return addresses.of(Addresses.DIRECTORY);
  }

  /** {@return where it listens} */
  public InetSocketAddress address() {
    return gate.address();
  }

  private void answer(HttpExchange exchange) throws IOException {
    Optional<String> from = gate.client(exchange.getRemoteAddress());
    if (from.isEmpty()) {
      exchange.close(); // it came around the gate
      return;
    }
    try (exchange) {
      String path = exchange.getRequestURI().getRawPath();
      Reply reply;
      boolean nonce = !exchange.getRequestMethod().equals("GET");
      try {
        byte[] body = body(exchange);
        reply =
            router.route(
                exchange.getRequestMethod(),
                path == null ? "" : path,
                type(exchange),
                body,
                from.get());
        if (!exchange.getRequestMethod().equals("GET") && body.length > 0) {
          gate.knows(from.get()); // who asked has an account, or has one now
        }
      } catch (Trouble e) {
        reply = problem(e);
      } catch (SymbolonException e) {
        if (e.reason() == Reason.NO_ANSWER) {
          reply = problem(Trouble.away());
          gate.answered(exchange.getRemoteAddress());
          send(exchange, reply, false);
          return;
        }
        LOG.warn("a question could not be answered: {} {}", e.statement(), e.seen());
        reply = problem(new Trouble(ProblemType.SERVER_INTERNAL, "it could not be done now"));
      } catch (RuntimeException e) {
        LOG.error("a question could not be answered", e);
        reply = problem(new Trouble(ProblemType.SERVER_INTERNAL, "a defect"));
      }
      gate.answered(exchange.getRemoteAddress());
      send(exchange, reply, nonce || Addresses.NONCE.equals(path));
    }
  }

  private static String type(HttpExchange exchange) {
    String type = exchange.getRequestHeaders().getFirst("Content-Type");
    return type == null ? "" : type;
  }

  private static byte[] body(HttpExchange exchange) throws IOException, Trouble {
    try (InputStream in = exchange.getRequestBody()) {
      byte[] body = in.readNBytes(QUESTION + 1);
      if (body.length > QUESTION) {
        throw new Trouble(
            Problem.of(ProblemType.MALFORMED, "a message has at most " + QUESTION + " octets")
                .withStatus(413));
      }
      return body;
    }
  }

  private static Reply problem(Trouble trouble) {
    ObjectNode json = ProblemJson.of(trouble.problem());
    if (trouble.problem().is(ProblemType.BAD_SIGNATURE_ALGORITHM)) {
      json.putArray("algorithms").add("ES256").add("ES384").add("ES512").add("EdDSA").add("RS256");
    }
    Reply reply =
        new Reply(
            trouble.problem().status(),
            java.util.Map.of("Content-Type", "application/problem+json"),
            java.util.List.of(),
            JsonText.write(json));
    return trouble.again().isPresent()
        ? reply.with("Retry-After", String.valueOf(trouble.again().getAsLong()))
        : reply;
  }

  private void send(HttpExchange exchange, Reply reply, boolean nonce) throws IOException {
    var headers = exchange.getResponseHeaders();
    reply.headers().forEach(headers::set);
    if (nonce) {
      headers.set("Replay-Nonce", nonces.fresh());
      headers.set("Cache-Control", "no-store");
    }
    headers.add("Link", "<" + directory() + ">;rel=\"index\"");
    reply.links().forEach(link -> headers.add("Link", link));
    boolean head = exchange.getRequestMethod().equals("HEAD");
    if (head || reply.body().length == 0) {
      exchange.sendResponseHeaders(reply.status(), -1);
      return;
    }
    exchange.sendResponseHeaders(reply.status(), reply.body().length);
    exchange.getResponseBody().write(reply.body());
  }

  /** Stops it; questions that are being answered have a moment. */
  @Override
  public void close() {
    gate.close();
    server.stop(1);
    threads.shutdown();
    router.close();
    list.close();
    certificate.close();
    files.ifPresent(PublishedFiles::close);
  }
}
