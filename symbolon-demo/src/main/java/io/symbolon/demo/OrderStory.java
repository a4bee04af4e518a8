// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

/** A certificate that comes and renews by itself, from the observatory's own authority. */
final class OrderStory {
  private static final String HOST = "ingest.lanternfish.example";
  private static final int LONGEST = 30_000; // milliseconds

  private final Teller teller;
  private final Clock clock;
  private final int port;
  private final int httpPort;

  private OrderStory(Teller teller, Clock clock) throws IOException {
    this.teller = teller;
    this.clock = clock;
    this.port = DemoTomcat.freePort();
    this.httpPort = DemoTomcat.freePort();
  }

  static void tell(Teller teller, Clock clock) throws IOException {
    new OrderStory(teller, clock).tell();
  }

  private void tell() throws IOException {
    teller.heading("By itself: ordered from the observatory's own authority, and renewed");
    Path hosts = teller.at("addresses");
    Files.writeString(hosts, "127.0.0.1 " + HOST + "\n");
    teller.say(
        "The authority answers the automatic protocol. No DNS knows the observatory's hosts");
    teller.say("here, so their addresses are in a file:");
    Thread serving = new Thread(() -> serve(hosts));
    serving.start();
    try {
      awaitListening(serving);
      order();
      renewUnderLoad();
      teller.say("");
      teller.say("What ends next, wherever it lies:");
      teller.symbolon(
          0,
          "due",
          teller.at("account"),
          teller.at("issuing"),
          teller.at("truststore.p12"),
          "--unlock",
          "file=" + teller.at("truststore.pass"));
    } finally {
      serving.interrupt();
      join(serving);
    }
  }

  private void serve(Path hosts) {
    teller.symbolon(
        0,
        "authority",
        "serve",
        "--by",
        teller.at("issuing"),
        "--unlock",
        "file=" + teller.at("issuing.pass"),
        "--host",
        "127.0.0.1",
        "--listen",
        "127.0.0.1:" + port,
        "--hosts",
        hosts,
        "--http-port",
        httpPort,
        "--allow",
        "*.lanternfish.example");
  }

  private void awaitListening(Thread serving) throws IOException {
    for (int i = 0; i < LONGEST / 50 && serving.isAlive(); i++) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (socket.isConnected()) {
          pause(300); // its own words come first
          return;
        }
      } catch (IOException e) {
        pause(50);
      }
    }
    throw new IOException("the authority does not answer");
  }

  private static void pause(long milliseconds) {
    try {
      Thread.sleep(milliseconds);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static void join(Thread thread) {
    try {
      thread.join(LONGEST);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void order() {
    teller.say("");
    teller.say("The host orders: it proves control, and the keystore is there.");
    teller.symbolon(
        0,
        "order",
        "--from",
        "https://127.0.0.1:" + port + "/directory",
        "--trust",
        teller.at("root").resolve("authority.pem"),
        "--account",
        teller.at("account"),
        "--host",
        HOST,
        "--proof",
        "listen=127.0.0.1:" + httpPort,
        "--into",
        teller.at("ordered.p12"),
        "--seal",
        "new=" + teller.at("ordered.pass"));
  }

  /** Handshake after handshake, while the keystore gets another key and the context takes it. */
  private void renewUnderLoad() throws IOException {
    teller.say("");
    teller.say("A service serves with it. It is renewed while clients come one after the other:");
    char[] password = Files.readString(teller.at("ordered.pass")).strip().toCharArray();
    try (Secret secret = Secret.of(password, "file")) {
      ReloadingTls tls =
          ReloadingTls.of(TlsFiles.server(teller.at("ordered.p12")).withUnlock(secret));
      AtomicInteger failed = new AtomicInteger();
      AtomicInteger good = new AtomicInteger();
      Set<String> seen = ConcurrentHashMap.newKeySet();
      try (ServerSocket listening = tls.context().getServerSocketFactory().createServerSocket()) {
        listening.bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 100);
        Thread server = new Thread(() -> accept(listening));
        server.setDaemon(true);
        server.start();
        SSLContext client = client();
        Thread load = new Thread(() -> call(client, listening, good, failed, seen));
        load.start();
        teller.symbolon(0, "renew", "--account", teller.at("account"), "--within", "100d");
        ReloadReport report = tls.reload();
        pause(500);
        load.interrupt();
        join(load);
        boolean well =
            failed.get() == 0
                && good.get() > 0
                && seen.size() == 2
                && report.outcome() == ReloadReport.Outcome.REPLACED;
        teller.say(
            "  "
                + good
                + " handshakes with "
                + seen.size()
                + " certificates, "
                + failed
                + " failed");
        if (!well) {
          teller.missed().add("a handshake failed during the renewal, or nothing was renewed");
        }
      }
    }
  }

  private SSLContext client() {
    List<Certificate> root = AuthorityFolder.open(teller.at("root"), clock).chain();
    return TlsSetup.client(Trust.in(root)).context();
  }

  private static void accept(ServerSocket listening) {
    while (!listening.isClosed()) {
      try (Socket one = listening.accept()) {
        one.setSoTimeout(LONGEST);
        one.getOutputStream().write('.');
      } catch (IOException e) {
        // the next one
      }
    }
  }

  private static void call(
      SSLContext client,
      ServerSocket listening,
      AtomicInteger good,
      AtomicInteger failed,
      Set<String> seen) {
    while (!Thread.currentThread().isInterrupted()) {
      try (SSLSocket socket = (SSLSocket) client.getSocketFactory().createSocket()) {
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setServerNames(List.of(new javax.net.ssl.SNIHostName(HOST)));
        parameters.setEndpointIdentificationAlgorithm("");
        socket.setSSLParameters(parameters);
        socket.connect(listening.getLocalSocketAddress(), LONGEST);
        socket.setSoTimeout(LONGEST);
        if (socket.getInputStream().read() != '.') {
          throw new IOException("no answer");
        }
        seen.add(Certificate.of(socket.getSession().getPeerCertificates()[0]).sha256());
        good.incrementAndGet();
      } catch (IOException e) {
        failed.incrementAndGet();
      }
    }
  }
}
