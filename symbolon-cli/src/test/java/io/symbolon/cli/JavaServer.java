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
  },
  ARTEMIS(ServerTalk.ARTEMIS) {
    @Override
    public void install(Path home, int port) throws IOException {
      file(
          home,
          "broker.xml",
          """
          <?xml version="1.0" encoding="UTF-8"?>
          <configuration xmlns="urn:activemq">
            <core xmlns="urn:activemq:core">
              <name>observatory</name>
              <persistence-enabled>false</persistence-enabled>
              <security-enabled>false</security-enabled>
              <acceptors>
                <!-- readings, in clear text -->
                <acceptor name="clear">tcp://127.0.0.1:%d?tcpNoDelay=true&amp;protocols=CORE</acceptor>
              </acceptors>
            </core>
          </configuration>
          """
              .formatted(FreePort.take()));
    }

    @Override
    public List<String> start(Path home) {
      return java(
          "org.apache.activemq.artemis.core.server.embedded.Main",
          String.valueOf(home.getParent()));
    }
  },
  WILDFLY(ServerTalk.HTTP) {
    @Override
    public void install(Path home, int port) throws IOException {
      Path packed = unpacked("wildfly-").resolve("standalone");
      ConfiguredServers.call(List.of("cp", "-a", packed + "/.", home.toString()));
      Path main = home.resolve("configuration/standalone.xml");
      String unused =
          "-port:%d}".formatted(FreePort.take()); // the other listeners are out of the way
      Files.writeString(
          main,
          Files.readString(main)
              .replace("http.port:8080}", "http.port:" + FreePort.take() + "}")
              .replace("ajp.port:8009}", "ajp.port:" + FreePort.take() + "}")
              .replace("management.http.port:9990}", "management.http" + unused));
    }

    @Override
    public List<String> start(Path home) {
      return List.of(
          "env",
          "JAVA_HOME=" + System.getProperty("java.home"),
          "LAUNCH_JBOSS_IN_BACKGROUND=true", // the script hands signals on
          "sh",
          unpacked("wildfly-") + "/bin/standalone.sh",
          "-Djboss.server.base.dir=" + home);
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

  /** What Kafka's own program for settings needs to ask a broker for its own. */
  static List<String> askKafka(int port, Path settings) {
    return java(
        "kafka.admin.ConfigCommand",
        "--bootstrap-server",
        "127.0.0.1:" + port,
        "--command-config",
        settings.toString(),
        "--describe",
        "--all",
        "--broker",
        "1");
  }

  private static List<String> java(String... words) {
    return Stream.concat(
            Stream.of(JAVA, "-Xmx256m", "-cp", SERVERS + "/brokers/*"), Stream.of(words))
        .toList();
  }
}
