// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.netty.handler.ssl.ClientAuth;
import io.netty.handler.ssl.IdentityCipherSuiteFilter;
import io.netty.handler.ssl.JdkSslContext;
import io.symbolon.chain.Credential;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import io.vertx.core.Vertx;
import io.vertx.core.http.HttpServer;
import io.vertx.core.http.HttpServerOptions;
import io.vertx.core.net.JdkSSLEngineOptions;
import io.vertx.core.net.PemKeyCertOptions;
import io.vertx.core.spi.tls.SslContextFactory;
import java.io.IOException;

/** A server made with Vert.x, whose engines come from a context that is reloaded. */
public final class ServeWithVertx {
  private ServeWithVertx() {}

  /** Serves, and serves with a new certificate after a reload. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    ServedFiles files = new ServedFiles();
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(files.server()).withTrust(files.clients()));
    String server = files.server().toString();
    HttpServerOptions options =
        new HttpServerOptions()
            .setSsl(true)
            // Vert.x insists on files; it reads them once, and takes its engines from the context.
            .setKeyCertOptions(new PemKeyCertOptions().setKeyPath(server).setCertPath(server))
            .setSslEngineOptions(new Reloaded(tls));
    Vertx vertx = Vertx.vertx();
    try {
      HttpServer listening =
          vertx
              .createHttpServer(options)
              .requestHandler(request -> request.response().setStatusCode(204).end())
              .listen(0, "127.0.0.1")
              .toCompletionStage()
              .toCompletableFuture()
              .join();
      Credential buoy = files.client("CN=buoy-017");
      System.out.println("served with " + files.call(listening.actualPort(), buoy));
      files.renew();
      System.out.println("reload: " + tls.reload().outcome());
      System.out.println("served with " + files.call(listening.actualPort(), buoy));
    } finally {
      vertx.close().toCompletionStage().toCompletableFuture().join();
    }
  }

  /** Vert.x asks it for a context once; the engines of that context are always the newest. */
  private static final class Reloaded extends JdkSSLEngineOptions {
    private final ReloadingTls tls;

    Reloaded(ReloadingTls tls) {
      this.tls = tls;
    }

    @Override
    public JdkSSLEngineOptions copy() {
      return new Reloaded(tls);
    }

    @Override
    public SslContextFactory sslContextFactory() {
      return () ->
          new JdkSslContext(
              tls.context(),
              false,
              null,
              IdentityCipherSuiteFilter.INSTANCE,
              null,
              ClientAuth.REQUIRE,
              null,
              false);
    }
  }
}
