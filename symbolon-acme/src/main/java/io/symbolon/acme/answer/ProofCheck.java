// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.acme.wire.Sha256;
import io.symbolon.der.Der;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketException;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Looks at what a host shows (RFC 8555, 8; RFC 8737). */
final class ProofCheck {
  private static final Logger LOG = LoggerFactory.getLogger(ProofCheck.class);
  private static final ScheduledExecutorService DEADLINES =
      Executors.newSingleThreadScheduledExecutor(Daemons.named("symbolon-deadlines"));
  private static final int LIMIT_MILLIS = 10_000;
  private static final int CONTENT = 4_096;
  private static final String PROTOCOL = "acme-tls/1";
  private static final Oid EXTENSION = Oid.of("1.3.6.1.5.5.7.1.31");

  private final Lookup plan;
  private final HostLookup hosts;

  ProofCheck(Lookup plan) {
    this.plan = plan;
    this.hosts = new HostLookup(plan);
  }

  /** Returns where control is proven. */
  void check(String type, Identifier name, String token, String authorization) throws Trouble {
    switch (type) {
      case "http-01" -> file(name, token, authorization);
      case "dns-01" -> record(name, authorization);
      case "tls-alpn-01" -> certificate(name, authorization);
      default -> throw Trouble.malformed("there is no such challenge");
    }
  }

  private interface Look {
    void at(InetAddress address, Socket socket) throws IOException, Trouble;
  }

  /**
   * Looks at each address until one has answered. All of it has one deadline: when it is over the
   * connection is closed, whatever is sent on it, and however slowly.
   */
  private void each(HostName host, int port, Look look) throws Trouble {
    boolean slow = false;
    long end = System.nanoTime() + LIMIT_MILLIS * 1_000_000L;
    for (InetAddress address : hosts.addresses(host)) {
      long left = (end - System.nanoTime()) / 1_000_000L;
      if (left <= 0) {
        slow = true;
        break;
      }
      try (Socket socket = new Socket()) {
        ScheduledFuture<?> deadline =
            DEADLINES.schedule(() -> close(socket), left, TimeUnit.MILLISECONDS);
        try {
          socket.connect(new InetSocketAddress(address, port), (int) left);
          socket.setSoTimeout((int) left);
          look.at(address, socket);
          return;
        } finally {
          deadline.cancel(false);
        }
      } catch (IOException e) {
        slow = System.nanoTime() - end >= 0 || e instanceof SocketTimeoutException;
      }
    }
    throw new Trouble(
        ProblemType.CONNECTION,
        "nobody answers for " + host + " on port " + port + (slow ? " in time" : ""));
  }

  private static void close(Socket socket) {
    try {
      socket.close();
    } catch (IOException e) {
      LOG.debug("a connection was gone already", e);
    }
  }

  private void file(Identifier name, String token, String authorization) throws Trouble {
    String path = "/.well-known/acme-challenge/" + token;
    each(
        name.host(),
        plan.httpPort(),
        (address, socket) -> {
          String body = get(socket, name.host(), path);
          if (!body.stripTrailing().equals(authorization)) {
            // What a host inside answers is not for whoever orders.
            LOG.info("{} answers for a proof: {}", name.value(), shown(body));
            throw new Trouble(
                ProblemType.INCORRECT_RESPONSE,
                "http://" + name.value() + path + " has other content than was wanted");
          }
        });
  }

  private static String shown(String text) {
    return VisibleText.of(text.length() > 80 ? text.substring(0, 80) : text);
  }

  private String get(Socket socket, HostName host, String path) throws IOException, Trouble {
    String port = plan.httpPort() == 80 ? "" : ":" + plan.httpPort();
    socket
        .getOutputStream()
        .write(
            ("GET "
                    + path
                    + " HTTP/1.0\r\nHost: "
                    + host.inUrl()
                    + port
                    + "\r\nUser-Agent: symbolon\r\nAccept: */*\r\nConnection: close\r\n\r\n")
                .getBytes(StandardCharsets.US_ASCII));
    String text = new String(read(socket.getInputStream()), StandardCharsets.ISO_8859_1);
    int body = text.indexOf("\r\n\r\n");
    if (!text.startsWith("HTTP/1.") || body < 0) {
      throw new Trouble(ProblemType.INCORRECT_RESPONSE, "what answers there speaks no HTTP");
    }
    String status = text.substring(0, text.indexOf("\r\n"));
    if (!status.matches("HTTP/1\\.[01] 200(?: .*)?")) {
      LOG.info("{} answers for a proof: {}", host, shown(status));
      throw new Trouble(
          ProblemType.INCORRECT_RESPONSE, "http://" + host + path + " does not answer with 200");
    }
    return text.substring(body + 4);
  }

  private static byte[] read(InputStream in) throws IOException {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    byte[] buffer = new byte[1024];
    for (int count = in.read(buffer); count >= 0; count = in.read(buffer)) {
      all.write(buffer, 0, count);
      if (all.size() > 2 * CONTENT) {
        break; // more than any answer that is right
      }
    }
    return all.toByteArray();
  }

  private void record(Identifier name, String authorization) throws Trouble {
    String record = "_acme-challenge." + name.value();
    String wanted = Sha256.text(authorization);
    List<String> texts = hosts.texts(record);
    if (!texts.contains(wanted)) {
      throw new Trouble(
          ProblemType.INCORRECT_RESPONSE,
          texts.isEmpty()
              ? "there is no TXT record " + record
              : "no TXT record " + record + " has the text that was wanted");
    }
  }

  private void certificate(Identifier name, String authorization) throws Trouble {
    each(
        name.host(),
        plan.tlsPort(),
        (address, socket) -> {
          Certificate shown = shown(socket, name.host());
          Optional<Extension> proof = shown.extensions().find(EXTENSION);
          boolean right =
              proof.isPresent()
                  && proof.get().critical()
                  && Arrays.equals(proof.get().value(), Der.octets(Sha256.of(authorization)))
                  && shown.alternativeNames().size() == 1
                  && shown.alternativeNames().get(0).equals(GeneralName.ofHost(name.value()))
                  && shown.isSelfIssued();
          if (!right) {
            throw new Trouble(
                ProblemType.INCORRECT_RESPONSE,
                "the certificate that "
                    + name.value()
                    + " shows for "
                    + PROTOCOL
                    + " is not the one that was wanted");
          }
        });
  }

  private Certificate shown(Socket plain, HostName host) throws IOException, Trouble {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(null, new TrustManager[] {new Anybody()}, null);
      try (SSLSocket socket =
          (SSLSocket)
              context
                  .getSocketFactory()
                  .createSocket(plain, host.toString(), plan.tlsPort(), true)) {
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setApplicationProtocols(new String[] {PROTOCOL});
        parameters.setServerNames(List.of(new SNIHostName(host.reverseName())));
        socket.setSSLParameters(parameters);
        try {
          socket.startHandshake();
        } catch (SocketTimeoutException | SocketException e) {
          throw e;
        } catch (IOException e) {
          LOG.info("{} answers for a proof: {}", host, VisibleText.of(String.valueOf(e)));
          throw new Trouble(ProblemType.TLS, host + " does not speak " + PROTOCOL);
        }
        if (!PROTOCOL.equals(socket.getApplicationProtocol())) {
          throw new Trouble(ProblemType.TLS, host + " does not speak " + PROTOCOL);
        }
        return Certificate.of(socket.getSession().getPeerCertificates()[0]);
      }
    } catch (GeneralSecurityException | SymbolonException e) {
      throw new Trouble(ProblemType.TLS, "what " + host + " shows is no certificate");
    }
  }

  /** What counts is what the certificate says, and not who signed it (RFC 8737, 3). */
  private static final class Anybody extends X509ExtendedTrustManager {
    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return new X509Certificate[0];
    }
  }
}
