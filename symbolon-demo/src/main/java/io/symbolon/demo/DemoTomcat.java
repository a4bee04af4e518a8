// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.apache.catalina.startup.Bootstrap;

/**
 * A Tomcat as an administrator finds it: a folder with {@code conf/server.xml}, which it reads when
 * it starts. It is a process of its own, of the libraries that lie beside the demo.
 */
final class DemoTomcat {
  private static final int TIMES = 2_400;
  private static final long PAUSE = 50; // milliseconds
  private static final String SERVER_XML =
      """
      <?xml version="1.0" encoding="UTF-8"?>
      <Server port="-1">
        <!-- The catalogue's own server. -->
        <Service name="Catalina">
          <Connector port="%d" address="127.0.0.1" protocol="HTTP/1.1"
                     connectionTimeout="20000" redirectPort="8443" />
          <!-- <Connector port="8443" SSLEnabled="true"/> was tried once -->
          <Engine name="Catalina" defaultHost="localhost">
            <Host name="localhost" appBase="webapps" autoDeploy="false"/>
          </Engine>
        </Service>
      </Server>
      """;
  private static final String WEB_XML =
      """
      <web-app xmlns="https://jakarta.ee/xml/ns/jakartaee" version="6.0">
        <servlet>
          <servlet-name>default</servlet-name>
          <servlet-class>org.apache.catalina.servlets.DefaultServlet</servlet-class>
        </servlet>
        <servlet-mapping>
          <servlet-name>default</servlet-name>
          <url-pattern>/</url-pattern>
        </servlet-mapping>
        <welcome-file-list><welcome-file>index.txt</welcome-file></welcome-file-list>
      </web-app>
      """;

  private DemoTomcat() {}

  /** Lays its folder out, with a connector in clear text. */
  static void install(Path base, int port) throws IOException {
    for (String folder : List.of("conf", "logs", "work", "temp", "webapps/ROOT")) {
      Files.createDirectories(base.resolve(folder));
    }
    write(base.resolve("conf/server.xml"), SERVER_XML.formatted(port));
    write(base.resolve("conf/web.xml"), WEB_XML);
    write(base.resolve("webapps/ROOT/index.txt"), DemoServer.PAGE);
  }

  private static void write(Path path, String text) {
    SafeFile.write(
        path, text.getBytes(StandardCharsets.UTF_8), Privacy.SYSTEM_DEFAULT, Existing.KEEP);
  }

  /** A port that is free just now. */
  static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    }
  }

  /** Runs it, with the settings that are in its folder, while something is done. */
  static void during(Path base, Runnable steps) throws IOException {
    Path log = base.resolve("logs/catalina.out");
    Process process =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-Xshare:auto",
                "-Dcatalina.home=" + base.toAbsolutePath(),
                "-Dcatalina.base=" + base.toAbsolutePath(),
                "-cp",
                System.getProperty("java.class.path"),
                Bootstrap.class.getName(),
                "start")
            .redirectErrorStream(true)
            .redirectOutput(log.toFile())
            .start();
    try {
      await(process, log);
      steps.run();
    } finally {
      process.destroy();
      ended(process);
    }
  }

  private static void await(Process process, Path log) throws IOException {
    for (int i = 0; i < TIMES && process.isAlive(); i++) {
      if (Files.readString(log, StandardCharsets.ISO_8859_1).contains("Server startup in")) {
        return;
      }
      try {
        Thread.sleep(PAUSE);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        break;
      }
    }
    throw new SymbolonException(
        Reason.UNREADABLE,
        "The demo's Tomcat did not start.",
        "Its log is " + log + ".",
        "Look at that file.");
  }

  private static void ended(Process process) {
    try {
      if (!process.waitFor(60, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      process.destroyForcibly();
      Thread.currentThread().interrupt();
    }
  }
}
