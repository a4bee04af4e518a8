// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;

/**
 * A stand-in for a database that begins in clear text: it answers the question for TLS as
 * PostgreSQL does, shakes hands, and lets nobody log in. It holds no data.
 */
final class DemoDatabase implements AutoCloseable {
  private static final int ASKS_FOR_TLS = 80_877_103; // the code of an SSLRequest
  private static final int PATIENCE = 10_000; // milliseconds
  private static final String REFUSAL = "SFATAL\0C28000\0Mno database is here\0\0";

  private final ServerSocket listener;
  private final SSLContext context;

  private DemoDatabase(ServerSocket listener, SSLContext context) {
    this.listener = listener;
    this.context = context;
  }

  static DemoDatabase start(SSLContext context, int port) throws IOException {
    DemoDatabase database =
        new DemoDatabase(new ServerSocket(port, 8, InetAddress.getLoopbackAddress()), context);
    Thread thread = new Thread(database::serve, "demo-database");
    thread.setDaemon(true);
    thread.start();
    return database;
  }

  int port() {
    return listener.getLocalPort();
  }

  private void serve() {
    while (!listener.isClosed()) {
      try (Socket socket = listener.accept()) {
        socket.setSoTimeout(PATIENCE);
        answer(socket);
      } catch (IOException e) {
        // whoever it was has gone, or it is the end
      }
    }
  }

  private void answer(Socket socket) throws IOException {
    DataInputStream in = new DataInputStream(socket.getInputStream());
    if (in.readInt() != 8 || in.readInt() != ASKS_FOR_TLS) {
      return;
    }
    socket.getOutputStream().write('S');
    socket.getOutputStream().flush();
    try (SSLSocket tls =
        (SSLSocket) context.getSocketFactory().createSocket(socket, null, socket.getPort(), true)) {
      tls.setUseClientMode(false);
      tls.startHandshake();
      if (tls.getInputStream().read() >= 0) {
        refuse(tls.getOutputStream());
      }
    }
  }

  private static void refuse(OutputStream out) throws IOException {
    byte[] text = REFUSAL.getBytes(StandardCharsets.US_ASCII);
    out.write(new byte[] {'E', 0, 0, 0, (byte) (text.length + 4)});
    out.write(text);
    out.flush();
  }

  @Override
  public void close() {
    try {
      listener.close();
    } catch (IOException e) {
      throw new IllegalStateException("the stand-in did not stop", e);
    }
  }
}
