// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Consumer;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.connector.Connector;
import org.apache.catalina.startup.Tomcat;
import org.apache.tomcat.util.net.SSLHostConfig;
import org.apache.tomcat.util.net.SSLHostConfigCertificate;

/** An embedded Tomcat on a free loopback port, configured by files alone. */
final class TomcatServer implements RealServer {
  private final Tomcat tomcat;

  private TomcatServer(Tomcat tomcat) {
    this.tomcat = tomcat;
  }

  static TomcatServer start(Path folder, Path keystore, Path trust, String password)
      throws IOException {
    return start(
        folder,
        host -> {
          host.setTruststoreFile(trust.toString());
          host.setTruststorePassword(password);
          host.setTruststoreType("PKCS12");
        },
        certificate -> {
          certificate.setCertificateKeystoreFile(keystore.toString());
          certificate.setCertificateKeystoreType("PKCS12");
          certificate.setCertificateKeystorePassword(password);
        });
  }

  static TomcatServer start(
      Path folder, Consumer<SSLHostConfig> clients, Consumer<SSLHostConfigCertificate> own)
      throws IOException {
    Connector connector = new Connector("org.apache.coyote.http11.Http11NioProtocol");
    connector.setPort(0);
    connector.setProperty("address", "127.0.0.1");
    connector.setSecure(true);
    connector.setScheme("https");
    connector.setProperty("SSLEnabled", "true");
    SSLHostConfig host = new SSLHostConfig();
    host.setProtocols("TLSv1.2+TLSv1.3");
    host.setCertificateVerification("required");
    clients.accept(host);
    SSLHostConfigCertificate certificate =
        new SSLHostConfigCertificate(host, SSLHostConfigCertificate.Type.UNDEFINED);
    own.accept(certificate);
    host.addCertificate(certificate);
    connector.addSslHostConfig(host);
    Tomcat tomcat = new Tomcat();
    Path base = Files.createDirectories(folder.resolve("tomcat"));
    tomcat.setBaseDir(base.toString());
    tomcat.setHostname("localhost");
    tomcat.setConnector(connector);
    Context context = tomcat.addContext("", base.toString());
    Tomcat.addServlet(
        context,
        "page",
        new jakarta.servlet.http.HttpServlet() {
          private static final long serialVersionUID = 1L;

          @Override
          protected void doGet(
              jakarta.servlet.http.HttpServletRequest request,
              jakarta.servlet.http.HttpServletResponse response)
              throws IOException {
            response.getWriter().write("17 buoys");
          }
        });
    context.addServletMapping("/", "page");
    try {
      tomcat.start();
    } catch (LifecycleException e) {
      throw new IOException("Tomcat does not start", e);
    }
    return new TomcatServer(tomcat);
  }

  @Override
  public int port() {
    return tomcat.getConnector().getLocalPort();
  }

  @Override
  public String log() {
    return "";
  }

  @Override
  public void close() {
    try {
      tomcat.stop();
      tomcat.destroy();
    } catch (LifecycleException e) {
      throw new IllegalStateException("Tomcat does not stop", e);
    }
  }
}
