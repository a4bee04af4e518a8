// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo.standin;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.GeneralSecurityException;
import javax.net.ssl.SSLSocket;

/**
 * An invented program as it runs: it answers on its port, and does what its tool says through two
 * files.
 */
public final class RunningStandIn implements AutoCloseable {
  private static final int PATIENCE = 10_000; // milliseconds
  private static final long PAUSE = 30; // milliseconds

  private final StandIn kind;
  private final Path home;
  private final ServerSocket listener;
  private final Thread tool;
  private volatile Setup setup;

  private RunningStandIn(StandIn kind, Path home, Setup setup) throws IOException {
    this.kind = kind;
    this.home = home;
    this.setup = setup;
    this.listener = new ServerSocket(setup.port(), 50, InetAddress.getLoopbackAddress());
    this.tool = started(this::obey, " and its tool");
  }

  /**
   * {@return the program, running with the settings in its home}
   *
   * @param kind which one
   * @throws IOException if it does not start
   */
  public static RunningStandIn start(StandIn kind, Path home) throws IOException {
    try {
      RunningStandIn running = new RunningStandIn(kind, home, kind.read(home));
      running.started(running::serve, " listens").start();
      running.tool.start();
      return running;
    } catch (GeneralSecurityException e) {
      throw new IOException(kind.word() + " does not start: " + e.getMessage(), e);
    }
  }

  private Thread started(Runnable work, String name) {
    Thread thread = new Thread(work, kind.word() + name);
    thread.setDaemon(true);
    return thread;
  }

  private void serve() {
    try {
      while (true) {
        Socket socket = listener.accept();
        Setup now = setup;
        started(() -> answer(socket, now), " answers").start();
      }
    } catch (IOException e) {
      tool.interrupt(); // the listener was closed
    }
  }

  private static void answer(Socket plain, Setup setup) {
    try (plain;
        Socket socket = secured(plain, setup)) {
      socket.setSoTimeout(PATIENCE);
      byte[] asked = new byte[4096];
      if (socket.getInputStream().read(asked) > 0) {
        OutputStream out = socket.getOutputStream();
        out.write(
            "HTTP/1.1 200 OK\r\nConnection: close\r\n\r\n17 buoys reporting\r\n"
                .getBytes(StandardCharsets.US_ASCII));
        out.flush();
      }
    } catch (IOException e) {
      return; // refused, or gone
    }
  }

  private static Socket secured(Socket plain, Setup setup) throws IOException {
    if (setup.tls().isEmpty()) {
      return plain;
    }
    SSLSocket socket =
        (SSLSocket)
            setup
                .tls()
                .get()
                .getSocketFactory()
                .createSocket(
                    plain, plain.getInetAddress().getHostAddress(), plain.getPort(), true);
    socket.setUseClientMode(false);
    if (setup.clients() == Setup.Clients.MUST) {
      socket.setNeedClientAuth(true);
    } else if (setup.clients() == Setup.Clients.MAY) {
      socket.setWantClientAuth(true);
    }
    return socket;
  }

  /** Does what the tool says, until the program ends. */
  private void obey() {
    Path command = home.resolve("run/command");
    while (!listener.isClosed()) {
      try {
        if (Files.exists(command)) {
          String word = Files.readString(command).strip();
          Files.delete(command);
          Path answer = home.resolve("run/answer.new");
          Files.writeString(answer, done(word) + "\n");
          Files.move(answer, home.resolve("run/answer"), StandardCopyOption.ATOMIC_MOVE);
        }
        Thread.sleep(PAUSE);
      } catch (IOException e) {
        return; // its home is gone
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  private String done(String word) {
    try {
      Setup read = kind.read(home);
      if (word.equals("check")) {
        return "settings are sound";
      }
      setup = read;
      return "settings taken";
    } catch (GeneralSecurityException | IOException | RuntimeException e) {
      return "REFUSED: " + e.getMessage();
    }
  }

  @Override
  public void close() {
    tool.interrupt();
    try {
      listener.close();
    } catch (IOException e) {
      return; // it is gone
    }
  }
}
