// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.chain.Credential;
import io.symbolon.tls.PeerRule;
import io.symbolon.tls.ReloadReport;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;

/**
 * A server of mutual TLS whose certificate is replaced while it serves: from files that are read
 * again on call (a {@code watch} does it by itself), with a rule for which of the trusted clients
 * are let in.
 */
public final class ReplaceWhileServing {
  private static final PeerRule BUOYS = PeerRule.subject("OU=buoys");

  private ReplaceWhileServing() {}

  /** Serves, replaces the certificate, tries a broken file, and a client that the rule refuses. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    ServedFiles files = new ServedFiles();
    ReloadingTls tls =
        ReloadingTls.of(
            TlsFiles.server(files.server())
                .withTrust(files.clients())
                .withTerms(setup -> setup.accepting(BUOYS)));
    HttpsServer listening =
        HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    listening.setHttpsConfigurator(new HttpsConfigurator(tls.context()));
    listening.createContext(
        "/",
        exchange -> {
          try (exchange) {
            exchange.sendResponseHeaders(204, -1);
          }
        });
    listening.start();
    try {
      int port = listening.getAddress().getPort();
      Credential buoy = files.client("CN=buoy-017,OU=buoys");
      System.out.println("served with " + files.call(port, buoy));
      files.renew();
      System.out.println("reload: " + tls.reload().outcome());
      System.out.println("served with " + files.call(port, buoy));
      Files.writeString(files.server(), "half of a fi");
      ReloadReport refused = tls.reload();
      System.out.println("reload: " + refused.outcome());
      System.out.println("  " + refused.findings().get(0).statement());
      System.out.println("served with " + files.call(port, buoy));
      Credential ship = files.client("CN=ship-2,OU=ships");
      try {
        files.call(port, ship);
      } catch (IOException e) {
        System.out.println("not served: " + BUOYS.refusal(ship.certificate()).orElseThrow());
      }
    } finally {
      listening.stop(0);
    }
  }
}
