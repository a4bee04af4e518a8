// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/**
 * Runs {@link PlainClient} as its own process, with the observatory's names leading to loopback.
 */
final class ClientProcess {
  /**
   * What the client did.
   *
   * @param exitCode 0 where it got the page
   * @param output what it printed
   */
  record Finished(int exitCode, String output) {}

  private final Path folder;
  private final String url;

  ClientProcess(Path folder, String url) {
    this.folder = folder;
    this.url = url;
  }

  Finished withTruststore(Path truststore, Path passwordFile) throws IOException {
    String password = Files.readString(passwordFile).strip();
    return run(
        List.of(
            "-Djavax.net.ssl.trustStore=" + truststore.toAbsolutePath(),
            "-Djavax.net.ssl.trustStoreType=PKCS12",
            "-Djavax.net.ssl.trustStorePassword=" + password));
  }

  Finished withoutTruststore() throws IOException {
    return run(List.of());
  }

  private Finished run(List<String> properties) throws IOException {
    Path hosts = folder.resolve("hosts");
    Files.writeString(hosts, "127.0.0.1 " + DemoPile.HOST + "\n");
    List<String> options = new ArrayList<>(properties);
    options.add("-Djdk.net.hosts.file=" + hosts.toAbsolutePath());
    options.add("-Xshare:auto");
    // The options go through a file that is its owner's alone: a password on a command line would
    // be
    // readable by every user of the machine.
    Path arguments = Files.createTempFile(folder, "client", ".options");
    try {
      Files.writeString(
          arguments,
          options.stream().map(ClientProcess::quoted).reduce("", (a, b) -> a + b + "\n"));
      Process process =
          new ProcessBuilder(
                  Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                  "@" + arguments.toAbsolutePath(),
                  "-cp",
                  System.getProperty("java.class.path"),
                  PlainClient.class.getName(),
                  url)
              .redirectErrorStream(true)
              .start();
      process.getOutputStream().close();
      String output = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
      if (!process.waitFor(180, TimeUnit.SECONDS)) {
        process.destroyForcibly();
        throw new IOException("the client did not end");
      }
      return new Finished(process.exitValue(), output);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted while the client ran", e);
    } finally {
      Files.deleteIfExists(arguments);
      Files.deleteIfExists(hosts);
    }
  }

  private static String quoted(String option) {
    return "\"" + option.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
  }
}
