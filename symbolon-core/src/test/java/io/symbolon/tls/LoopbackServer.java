package io.symbolon.tls;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;

/** Serves every connection to a loopback address, each in a thread of its own, until closed. */
final class LoopbackServer implements AutoCloseable {
  private final ServerSocket socket;

  interface Service {
    void serve(Socket connection) throws IOException, InterruptedException;
  }

  LoopbackServer(ServerSocket socket, Service service) {
    this.socket = socket;
    start(
        () -> {
          while (!socket.isClosed()) {
            try {
              Socket connection = socket.accept();
              start(() -> serve(connection, service));
            } catch (IOException e) {
              return; // closed
            }
          }
        });
  }

  private static void start(Runnable task) {
    Thread thread = new Thread(task);
    thread.setDaemon(true);
    thread.start();
  }

  private static void serve(Socket connection, Service service) {
    try (connection) {
      service.serve(connection);
    } catch (IOException e) {
      return; // whoever called has hung up
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  static LoopbackServer plain(Service service) throws IOException {
    return new LoopbackServer(new ServerSocket(0, 50, InetAddress.getLoopbackAddress()), service);
  }

  /** At another address of this machine, but the same port. */
  static LoopbackServer plain(String ip, int port, Service service) throws IOException {
    ServerSocket socket = new ServerSocket();
    socket.setReuseAddress(true);
    socket.bind(new InetSocketAddress(ip, port), 50);
    return new LoopbackServer(socket, service);
  }

  int port() {
    return socket.getLocalPort();
  }

  @Override
  public void close() throws IOException {
    socket.close();
  }
}
