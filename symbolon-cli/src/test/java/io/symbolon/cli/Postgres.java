// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;

/** A real PostgreSQL on a free loopback port, of which only its host {@code localhost} is used. */
final class Postgres extends ProcessServer {
  private static final Path ALL = Path.of("/usr/lib/postgresql");

  private Postgres(Process process, Path log, int port) {
    super(process, log, port);
  }

  /** Where it is missing a test is skipped, but never where CI promises that it is there. */
  static void assume() {
    boolean there = !programs().isEmpty();
    if (!there && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("PostgreSQL is not installed; .ci/run installs it");
    }
    Assumptions.assumeTrue(there, "PostgreSQL is not installed");
  }

  private static List<Path> programs() {
    if (!Files.isDirectory(ALL)) {
      return List.of();
    }
    try (Stream<Path> versions = Files.list(ALL)) {
      return versions
          .map(version -> version.resolve("bin"))
          .filter(bin -> Files.isExecutable(bin.resolve("initdb")))
          .sorted()
          .toList();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  static Path program(String name) {
    List<Path> all = programs();
    return all.get(all.size() - 1).resolve(name);
  }

  private static boolean isRoot() {
    return "root".equals(System.getProperty("user.name"));
  }

  /** Stops all of its processes where they are, or lets them go on. */
  void hang(boolean hanging) throws IOException, InterruptedException {
    List<String> line = new ArrayList<>(List.of("kill", hanging ? "-STOP" : "-CONT"));
    ProcessHandle server = process.toHandle();
    Stream.concat(Stream.of(server), server.descendants())
        .forEach(one -> line.add(Long.toString(one.pid())));
    int ended = new ProcessBuilder(line).inheritIO().start().waitFor();
    if (ended != 0) {
      throw new IOException("kill ended with " + ended);
    }
  }

  /** The server refuses to run as root. */
  static List<String> command(String... line) {
    List<String> command = new ArrayList<>();
    if (isRoot()) {
      command.addAll(List.of("setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups"));
    }
    command.addAll(List.of(line));
    return command;
  }

  static void give(Path path) throws IOException {
    if (isRoot()) {
      Files.setOwner(
          path,
          path.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("postgres"));
    }
  }

  /** An empty database, to be used for several servers one after the other. */
  static Path database(Path folder) throws IOException, InterruptedException {
    if (isRoot()) { // the server's user has to get through
      Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx--x--x"));
    }
    Path home = Files.createDirectory(folder.resolve("database"));
    give(home);
    Process made =
        new ProcessBuilder(
                command(
                    program("initdb").toString(),
                    "--no-sync",
                    "--auth=trust",
                    "--username=archive",
                    "-D",
                    home.resolve("data").toString()))
            .directory(Path.of("/tmp").toFile())
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("initdb.out").toFile())
            .start();
    if (!made.waitFor(180, TimeUnit.SECONDS) || made.exitValue() != 0) {
      throw new IOException(Files.readString(folder.resolve("initdb.out")));
    }
    return home;
  }

  /**
   * Starts it.
   *
   * @param files by the setting that names them, such as {@code ssl_cert_file}
   * @param rule the line of {@code pg_hba.conf} that lets clients in
   */
  static Postgres start(Path home, Path folder, Map<String, Path> files, String rule)
      throws IOException {
    int port = FreePort.take();
    List<String> line =
        new ArrayList<>(
            List.of(
                program("postgres").toString(),
                "-D",
                home.resolve("data").toString(),
                "-p",
                Integer.toString(port),
                "-h",
                "127.0.0.1",
                "-c",
                "unix_socket_directories=",
                "-c",
                "fsync=off"));
    if (!files.isEmpty()) {
      line.addAll(List.of("-c", "ssl=on"));
    }
    for (Map.Entry<String, Path> file : files.entrySet()) {
      Path copy = home.resolve(file.getKey());
      Files.copy(file.getValue(), copy, StandardCopyOption.REPLACE_EXISTING);
      Files.setPosixFilePermissions(copy, PosixFilePermissions.fromString("rw-------"));
      give(copy);
      line.addAll(List.of("-c", file.getKey() + "=" + copy));
    }
    Path rules = Lanternfish.file(home, "rules", rule + "\n");
    give(rules);
    line.addAll(List.of("-c", "hba_file=" + rules));
    Path log = folder.resolve("postgres.log");
    Process process =
        new ProcessBuilder(command(line.toArray(String[]::new)))
            .directory(Path.of("/tmp").toFile())
            .redirectErrorStream(true)
            .redirectOutput(log.toFile())
            .start();
    Postgres server = new Postgres(process, log, port);
    server.await();
    return server;
  }

  private void await() throws IOException {
    for (int i = 0; i < 400; i++) {
      if (log().contains("ready to accept connections")) {
        return;
      }
      if (!process.isAlive()) {
        break;
      }
      pause();
    }
    throw new IOException("PostgreSQL did not start: " + log());
  }

  /** What PostgreSQL's own client says to a question; the answer is 17. */
  String ask(Map<String, String> settings) throws IOException, InterruptedException {
    StringBuilder connection =
        new StringBuilder("host=localhost hostaddr=127.0.0.1 dbname=postgres user=archive port=")
            .append(port());
    settings.forEach(
        (name, value) -> connection.append(' ').append(name).append('=').append(value));
    Process client =
        new ProcessBuilder(
                program("psql").toString(), connection.toString(), "-Atc", "SELECT 10 + 7")
            .redirectErrorStream(true)
            .start();
    String said =
        new String(client.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
    client.waitFor(120, TimeUnit.SECONDS);
    return said.strip();
  }
}
