// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.failure.Reason;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;

/**
 * A certificate over TLS (RFC 8737), shown by a listener of our own to whoever asks for the
 * protocol {@code acme-tls/1}, and to nobody else.
 */
public final class TlsListener implements Proof {
  /** The name of the protocol in the handshake. */
  static final String PROTOCOL = "acme-tls/1";

  private static final int WAITING = 50;
  private static final int ONE_MILLIS = 10_000;

  private final InetSocketAddress address;
  private final ProofCertificates certificates;
  private Optional<SSLServerSocket> running = Optional.empty();

  /**
   * A listener.
   *
   * @param address where it listens; the authority looks at port 443
   * @param random where keys come from
   */
  public TlsListener(InetSocketAddress address, Clock clock, SecureRandom random) {
    this.address = address;
    this.certificates = new ProofCertificates(clock, random);
  }

  @Override
  public String type() {
    return "tls-alpn-01";
  }

  @Override
  public String title() {
    return "a certificate over TLS, shown here on port " + address.getPort();
  }

  @Override
  public boolean suits(Identifier name, boolean wildcard) {
    return !wildcard;
  }

  @Override
  public synchronized Shown show(Task task) {
    certificates.add(task);
    if (running.isEmpty()) {
      try {
        running = Optional.of(start());
      } catch (IOException | GeneralSecurityException e) {
        certificates.remove(task);
        throw ProofFailure.of(
            task,
            Reason.NOT_WRITABLE,
            "The address "
                + VisibleText.of(address.getHostString())
                + ":"
                + address.getPort()
                + " can't be listened on: "
                + VisibleText.of(String.valueOf(e.getMessage())),
            "Stop the program that uses that port for a moment, or prove it in another way: "
                + Input.PROOF.mention()
                + ".",
            e);
      }
    }
    return () -> away(task);
  }

  private synchronized void away(Task task) {
    certificates.remove(task);
    if (certificates.isEmpty() && running.isPresent()) {
      try {
        running.get().close();
      } catch (IOException e) {
        // it is closed all the same
      }
      running = Optional.empty();
    }
  }

  private SSLServerSocket start() throws IOException, GeneralSecurityException {
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(new KeyManager[] {certificates}, null, null);
    SSLServerSocket socket =
        (SSLServerSocket) context.getServerSocketFactory().createServerSocket();
    socket.setReuseAddress(true);
    socket.bind(address, WAITING);
    SSLParameters parameters = socket.getSSLParameters();
    parameters.setApplicationProtocols(new String[] {PROTOCOL});
    socket.setSSLParameters(parameters);
    ExecutorService threads = Executors.newFixedThreadPool(5, Daemons.named("symbolon-proof"));
    threads.execute(() -> accept(socket, threads));
    return socket;
  }

  private static void accept(SSLServerSocket socket, ExecutorService threads) {
    try {
      while (true) {
        Socket one = socket.accept();
        threads.execute(() -> shake((SSLSocket) one));
      }
    } catch (IOException | RejectedExecutionException e) {
      threads.shutdown(); // closed: nothing is shown any more
    }
  }

  /** After the handshake the connection is closed (RFC 8737, 3). */
  private static void shake(SSLSocket socket) {
    try (socket) {
      socket.setSoTimeout(ONE_MILLIS);
      socket.startHandshake();
    } catch (IOException e) {
      // whoever this was did not want what is shown here
    }
  }
}
