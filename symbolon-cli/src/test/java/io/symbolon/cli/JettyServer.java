// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.function.Consumer;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.util.Callback;
import org.eclipse.jetty.util.ssl.SslContextFactory;

/** An embedded Jetty on a free loopback port. */
final class JettyServer implements RealServer {
  private final Server server = new Server();
  private final ServerConnector connector;

  private JettyServer(SslContextFactory.Server tls) {
    connector =
        new ServerConnector(
            server, 1, 1, new SslConnectionFactory(tls, "http/1.1"), new HttpConnectionFactory());
    connector.setHost("127.0.0.1");
    server.addConnector(connector);
    server.setHandler(
        new Handler.Abstract() {
          @Override
          public boolean handle(Request request, Response response, Callback callback) {
            response.setStatus(HttpStatus.OK_200);
            response.write(
                true,
                java.nio.ByteBuffer.wrap("17 buoys".getBytes(StandardCharsets.UTF_8)),
                callback);
            return true;
          }
        });
  }

  static JettyServer start(Consumer<SslContextFactory.Server> settings) throws IOException {
    SslContextFactory.Server tls = new SslContextFactory.Server();
    settings.accept(tls);
    JettyServer jetty = new JettyServer(tls);
    try {
      jetty.server.start();
    } catch (Exception e) {
      throw new IOException("Jetty does not start", e);
    }
    return jetty;
  }

  @Override
  public int port() {
    return connector.getLocalPort();
  }

  @Override
  public String log() {
    return "";
  }

  @Override
  public void close() {
    try {
      server.stop();
    } catch (Exception e) {
      throw new IllegalStateException("Jetty does not stop", e);
    }
  }
}
