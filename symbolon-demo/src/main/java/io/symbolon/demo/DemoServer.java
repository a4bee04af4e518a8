// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.file.Path;
import java.util.logging.Handler;
import java.util.logging.LogManager;
import java.util.logging.Logger;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.connector.Connector;
import org.apache.catalina.startup.Tomcat;
import org.apache.tomcat.util.net.SSLHostConfig;
import org.apache.tomcat.util.net.SSLHostConfigCertificate;

/**
 * An embedded Tomcat that serves one page over TLS on a free loopback port. It is given the files
 * that the commands made and nothing else: a keystore, and a file with its password.
 */
final class DemoServer implements AutoCloseable {
  static final String PAGE = "Lanternfish ingest: 17 buoys reporting\n";

  // Kept, because the logging of the platform forgets loggers that nobody holds.
  private static final Logger LOG = Logger.getLogger("org.apache");

  private final Tomcat tomcat;

  private DemoServer(Tomcat tomcat) {
    this.tomcat = tomcat;
  }

  static DemoServer start(Path folder, Path keystore, Path passwordFile, String alias) {
    return start(folder, keystore, passwordFile, alias, 0);
  }

  static DemoServer start(Path folder, Path keystore, Path passwordFile, String alias, int port) {
    LogManager.getLogManager().reset(); // the demo shows the commands' output, not the server's
    for (Handler handler : LOG.getHandlers()) {
      LOG.removeHandler(handler);
    }
    Tomcat tomcat = new Tomcat();
    tomcat.setBaseDir(folder.toAbsolutePath().toString());
    tomcat.setHostname("localhost");
    tomcat.setConnector(connector(keystore, passwordFile, alias, port));
    Context context = tomcat.addContext("", folder.toAbsolutePath().toString());
    Tomcat.addServlet(context, "page", new Page());
    context.addServletMapping("/", "page");
    try {
      tomcat.start();
    } catch (LifecycleException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The server did not start.",
          "It says: " + e.getMessage() + ".",
          "Check that nobody else listens on the port, and that the folder is that of a demo.",
          e);
    }
    return new DemoServer(tomcat);
  }

  private static Connector connector(Path keystore, Path passwordFile, String alias, int port) {
    Connector connector = new Connector("org.apache.coyote.http11.Http11NioProtocol");
    connector.setPort(port);
    connector.setThrowOnFailure(true); // a port that is taken would only be in its log
    connector.setProperty("address", "127.0.0.1");
    connector.setSecure(true);
    connector.setScheme("https");
    connector.setProperty("SSLEnabled", "true");
    SSLHostConfig host = new SSLHostConfig();
    host.setProtocols("TLSv1.2+TLSv1.3");
    SSLHostConfigCertificate certificate =
        new SSLHostConfigCertificate(host, SSLHostConfigCertificate.Type.UNDEFINED);
    certificate.setCertificateKeystoreFile(keystore.toAbsolutePath().toString());
    certificate.setCertificateKeystoreType("PKCS12");
    certificate.setCertificateKeystorePasswordFile(passwordFile.toAbsolutePath().toString());
    certificate.setCertificateKeyAlias(alias);
    host.addCertificate(certificate);
    connector.addSslHostConfig(host);
    return connector;
  }

  int port() {
    return tomcat.getConnector().getLocalPort();
  }

  @Override
  public void close() {
    try {
      tomcat.stop();
      tomcat.destroy();
    } catch (LifecycleException e) {
      throw new IllegalStateException("the server did not stop", e);
    }
  }

  private static final class Page extends HttpServlet {
    private static final long serialVersionUID = 1L;

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response)
        throws IOException {
      response.setContentType("text/plain;charset=UTF-8");
      response.getWriter().write(PAGE);
    }
  }
}
