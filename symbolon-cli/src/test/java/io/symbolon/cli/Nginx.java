// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.NginxProgram;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A real nginx on a free loopback port that wants clients' certificates. */
final class Nginx extends ProcessServer {
  private Nginx(Process process, Path log, int port) {
    super(process, log, port);
  }

  static void assume() {
    NginxProgram.assume();
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
    Process process =
        NginxProgram.start(
            Files.createDirectories(folder.resolve("nginx")),
            log,
            port,
            """
            server {
              listen 127.0.0.1:%d ssl;
              %s
              location / { return 200 "17 buoys reporting"; }
            }
            """
                .formatted(port, settings));
    return new Nginx(process, log, port);
  }
}
