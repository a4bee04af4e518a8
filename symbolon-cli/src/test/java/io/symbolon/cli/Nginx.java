package io.symbolon.cli;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Assumptions;

/** A real nginx on a free loopback port that wants clients' certificates. */
final class Nginx extends ProcessServer {
  private Nginx(Process process, Path log, int port) {
    super(process, log, port);
  }

  /** Where it is missing a test is skipped, but never where CI promises that it is there. */
  static void assume() {
    if (!Files.isExecutable(program()) && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("nginx is not installed; .ci/run installs it");
    }
    Assumptions.assumeTrue(Files.isExecutable(program()), "nginx is not installed");
  }

  private static Path program() {
    return Path.of("/usr/sbin/nginx");
  }

  static Nginx start(Path folder, Path chain, Path key, Path clientRoots, Path lists)
      throws IOException {
    return start(
        folder,
        """
        ssl_certificate %s;
        ssl_certificate_key %s;
        ssl_client_certificate %s;
        ssl_verify_client on;
        ssl_verify_depth 3;
        ssl_crl %s;
        """
            .formatted(chain, key, clientRoots, lists));
  }

  /** With these lines in the server's block. */
  static Nginx start(Path folder, String settings) throws IOException {
    int port = FreePort.take();
    Path log = folder.resolve("nginx.log");
    Path home = Files.createDirectories(folder.resolve("nginx"));
    StringBuilder temporary = new StringBuilder();
    for (String kind : new String[] {"client_body", "proxy", "fastcgi", "uwsgi", "scgi"}) {
      temporary.append(kind).append("_temp_path ").append(home.resolve(kind)).append(";\n");
    }
    Path configuration =
        Lanternfish.file(
            folder,
            "nginx.conf",
            """
            daemon off;
            master_process off;
            pid %s;
            error_log %s info;
            events { }
            http {
              access_log off;
              %s
              server {
                listen 127.0.0.1:%d ssl;
                %s
                location / { return 200 "17 buoys reporting"; }
              }
            }
            """
                .formatted(home.resolve("pid"), log, temporary, port, settings));
    Process process =
        new ProcessBuilder(
                program().toString(),
                "-e",
                log.toString(),
                "-p",
                home.toString(),
                "-c",
                configuration.toString())
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("nginx.out").toFile())
            .start();
    Nginx nginx = new Nginx(process, log, port);
    nginx.await();
    return nginx;
  }

  private void await() throws IOException {
    for (int i = 0; i < 200; i++) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port())) {
        if (socket.isConnected()) {
          return;
        }
      } catch (IOException e) {
        if (!process.isAlive()) {
          throw new IOException("nginx did not start: " + log(), e);
        }
        pause();
      }
    }
    throw new IOException("nginx does not answer: " + log());
  }
}
