// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.util.function.Supplier;
import javax.net.ssl.SSLServerSocketFactory;
import org.jspecify.annotations.Nullable;

/** Makes server sockets whose connections follow the setup of the moment in which they came. */
final class SetupServerSocketFactory extends SSLServerSocketFactory {
  private static final int BACKLOG = 50; // what the platform takes by itself

  private final Supplier<LoadedSetup> current;

  SetupServerSocketFactory(Supplier<LoadedSetup> current) {
    this.current = current;
  }

  @Override
  public ServerSocket createServerSocket() throws IOException {
    return new SetupServerSocket(current);
  }

  @Override
  public ServerSocket createServerSocket(int port) throws IOException {
    return bound(port, BACKLOG, null);
  }

  @Override
  public ServerSocket createServerSocket(int port, int backlog) throws IOException {
    return bound(port, backlog, null);
  }

  @Override
  public ServerSocket createServerSocket(int port, int backlog, @Nullable InetAddress address)
      throws IOException {
    return bound(port, backlog, address);
  }

  private ServerSocket bound(int port, int backlog, @Nullable InetAddress address)
      throws IOException {
    SetupServerSocket socket = new SetupServerSocket(current);
    try {
      socket.bind(new InetSocketAddress(address, port), backlog);
      return socket;
    } catch (IOException e) {
      socket.close();
      throw e;
    }
  }

  @Override
  public String[] getDefaultCipherSuites() {
    LoadedSetup now = current.get();
    return now.terms(now.platform().getDefaultSSLParameters()).getCipherSuites();
  }

  @Override
  public String[] getSupportedCipherSuites() {
    return current.get().platform().getServerSocketFactory().getSupportedCipherSuites();
  }
}
