// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/** Servers that are written in Java, as their makers pack them, before they are configured. */
enum JavaServer implements WrittenServer {
  JETTY(ServerTalk.HTTP) {
    @Override
    public void install(Path home, int port) throws IOException {
      ConfiguredServers.call(
          List.of(JAVA, "-jar", unpacked("jetty-home-") + "/start.jar", base(home), MODULES));
      if (!Files.exists(home.resolve("start.d/ssl.ini"))) {
        throw new IOException("Jetty made no start.d/ssl.ini");
      }
    }

    private static final String MODULES = "--add-modules=server,ssl,https";

    private static String base(Path home) {
      return "jetty.base=" + home;
    }

    @Override
    public List<String> start(Path home) {
      return List.of(JAVA, "-jar", unpacked("jetty-home-") + "/start.jar", base(home));
    }
  },
  KAFKA(ServerTalk.KAFKA) {
    @Override
    public void install(Path home, int port) throws IOException {
      int controller = FreePort.take();
      file(
          home,
          "server.properties",
          """
          # One node
          process.roles=broker,controller
          node.id=1
          controller.quorum.voters=1@127.0.0.1:{controller}
          controller.listener.names=CONTROLLER
          inter.broker.listener.name=INSIDE
          listener.security.protocol.map=CONTROLLER:PLAINTEXT,INSIDE:PLAINTEXT,SSL:SSL
          listeners=CONTROLLER://127.0.0.1:{controller},\\
              INSIDE://127.0.0.1:{inside}
          log.dirs={data}
          """
              .replace("{controller}", String.valueOf(controller))
              .replace("{inside}", String.valueOf(FreePort.take()))
              .replace("{data}", String.valueOf(home.resolveSibling("data"))));
      ConfiguredServers.call(
          java(
              "kafka.tools.StorageTool",
              "format",
              "-t",
              "bGFudGVybmZpc2gwMDE3MQ",
              "-c",
              home + "/server.properties"));
    }

    @Override
    public List<String> start(Path home) {
      return java("kafka.Kafka", home + "/server.properties");
    }
  };

  static final String JAVA = Path.of(System.getProperty("java.home"), "bin", "java").toString();
  private static final Path SERVERS =
      Path.of("../symbolon-test-servers/target/servers").toAbsolutePath().normalize();
  private final ServerTalk talk;

  JavaServer(ServerTalk talk) {
    this.talk = talk;
  }

  @Override
  public ServerTalk talk() {
    return talk;
  }

  /** A server's folder, whatever its version. */
  static Path unpacked(String start) {
    try (Stream<Path> all = Files.list(SERVERS)) {
      return all.filter(one -> String.valueOf(one.getFileName()).startsWith(start))
          .findFirst()
          .orElseThrow();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  private static List<String> java(String... words) {
    return Stream.concat(
            Stream.of(JAVA, "-Xmx256m", "-cp", SERVERS + "/brokers/*"), Stream.of(words))
        .toList();
  }
}
