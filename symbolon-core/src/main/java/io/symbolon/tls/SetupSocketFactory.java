// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.util.function.Supplier;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.SSLSocketFactory;
import org.jspecify.annotations.Nullable;

/** Makes sockets that follow the setup of the moment. */
final class SetupSocketFactory extends SSLSocketFactory {
  private final Supplier<LoadedSetup> current;

  SetupSocketFactory(Supplier<LoadedSetup> current) {
    this.current = current;
  }

  private interface Making {
    Socket from(SSLSocketFactory factory) throws IOException;
  }

  private Socket made(Making making) throws IOException {
    LoadedSetup now = current.get();
    return now.follow((SSLSocket) making.from(now.platform().getSocketFactory()));
  }

  @Override
  public Socket createSocket() throws IOException {
    return made(SSLSocketFactory::createSocket);
  }

  @Override
  public Socket createSocket(String host, int port) throws IOException {
    return made(factory -> factory.createSocket(host, port));
  }

  @Override
  public Socket createSocket(String host, int port, InetAddress local, int localPort)
      throws IOException {
    return made(factory -> factory.createSocket(host, port, local, localPort));
  }

  @Override
  public Socket createSocket(InetAddress host, int port) throws IOException {
    return made(factory -> factory.createSocket(host, port));
  }

  @Override
  public Socket createSocket(InetAddress host, int port, InetAddress local, int localPort)
      throws IOException {
    return made(factory -> factory.createSocket(host, port, local, localPort));
  }

  @Override
  public Socket createSocket(Socket below, String host, int port, boolean autoClose)
      throws IOException {
    return made(factory -> factory.createSocket(below, host, port, autoClose));
  }

  @Override
  public Socket createSocket(Socket below, @Nullable InputStream consumed, boolean autoClose)
      throws IOException {
    return made(factory -> factory.createSocket(below, consumed, autoClose));
  }

  @Override
  public String[] getDefaultCipherSuites() {
    LoadedSetup now = current.get();
    return now.terms(now.platform().getDefaultSSLParameters()).getCipherSuites();
  }

  @Override
  public String[] getSupportedCipherSuites() {
    return current.get().platform().getSocketFactory().getSupportedCipherSuites();
  }
}
