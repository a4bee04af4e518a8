// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Servers that are described, and HAProxy: what is written, and what they do with it as they run.
 */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class DescribedServersTest {
  private static final Credential BUOY =
      ISSUING.issue(
          Lanternfish.name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;
  private Path home = Path.of("");
  private int port;

  /** A server as its package has it, in clear text, before it is configured. */
  enum Described {
    HAPROXY(ServerTalk.HTTP, "/usr/sbin/haproxy") {
      @Override
      void install(Path home, int port) {
        file(
            home,
            "haproxy.cfg",
            """
            global
              crt-base /nowhere # for names that are not whole
            defaults
              mode http
              timeout connect 20s
              timeout client 20s
              timeout server 20s
            frontend buoys
              bind 127.0.0.1:%d name plain # the readings
              http-request return status 200"""
                    .formatted(port)
                + "\n");
      }

      @Override
      List<String> start(Path home) {
        return List.of(program(), "-db", "-f", home + "/haproxy.cfg");
      }
    },
    MOSQUITTO(ServerTalk.MQTT, "/usr/sbin/mosquitto") {
      @Override
      void install(Path home, int port) {
        file(
            home,
            "mosquitto.conf",
            "user mosquitto\nallow_anonymous true\ninclude_dir " + home + "/conf.d\n");
        folder(home, "conf.d");
      }

      @Override
      List<String> start(Path home) {
        return List.of(program(), "-c", home + "/mosquitto.conf");
      }
    },
    REDIS(ServerTalk.REDIS, "/usr/bin/redis-server") {
      @Override
      void install(Path home, int port) {
        file(
            home,
            "redis.conf",
            "# One store\r\nbind 127.0.0.1\r\nport 0\r\nsave \"\"\r\ndir "
                + home.getParent()
                + "\r\n");
      }

      @Override
      List<String> start(Path home) {
        return List.of("runuser", "-u", "redis", "--", program(), home + "/redis.conf");
      }
    },
    DOVECOT(ServerTalk.IMAP, "/usr/sbin/dovecot") {
      @Override
      void install(Path home, int port) {
        folder(home, "run");
        folder(home, "conf.d");
        file(
            home,
            "dovecot.conf",
            """
            base_dir = {home}/run
            state_dir = {home}/run
            log_path = {home}/dovecot.log
            protocols = imap
            listen = 127.0.0.1
            auth_mechanisms = plain
            passdb {
              driver = static
              args = nopassword=y
            }
            userdb {
              driver = static
              args = uid=65534 gid=65534 home={home}/run
            }
            service imap-login {
              chroot =
              inet_listener imap {
                port = 0
              }
              inet_listener imaps {
                port = {port}
                ssl = yes
              }
            }
            service anvil {
              chroot =
            }
            !include conf.d/*.conf
            !include_try local.conf
            """
                .replace("{home}", home.toString())
                .replace("{port}", String.valueOf(port)));
        file(home, "conf.d/10-ssl.conf", "# not yet\nssl = no\n");
      }

      @Override
      List<String> start(Path home) {
        return List.of(program(), "-F", "-c", home + "/dovecot.conf");
      }

      @Override
      boolean hasPort() {
        return false;
      }
    },
    POSTFIX(ServerTalk.SMTP, "/usr/sbin/postfix") {
      @Override
      void install(Path home, int port) throws IOException {
        for (String own : List.of("queue", "data")) {
          folder(home.resolve("..").normalize(), own);
        }
        Files.setOwner(
            home.resolveSibling("data"),
            home.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("postfix"));
        file(
            home,
            "main.cf",
            """
            compatibility_level = 3.6
            queue_directory = {parent}/queue
            data_directory = {parent}/data
            command_directory = /usr/sbin
            daemon_directory = /usr/lib/postfix/sbin
            mail_owner = postfix
            setgid_group = postdrop
            myhostname = relay.lanternfish.example
            inet_interfaces = 127.0.0.1
            inet_protocols = ipv4
            alias_maps =
            local_recipient_maps =
            maillog_file = {parent}/postfix.log
            maillog_file_prefixes = /
            smtpd_tls_cert_file=/nowhere/old.pem
            smtpd_tls_security_level=may
            """
                .replace("{parent}", String.valueOf(home.getParent())));
        file(
            home,
            "master.cf",
            """
            127.0.0.1:%d inet n - n - - smtpd -o smtpd_tls_wrappermode=yes
            cleanup unix n - n - 0 cleanup
            rewrite unix - - n - - trivial-rewrite
            proxymap unix - - n - - proxymap
            tlsmgr unix - - n 1000? 1 tlsmgr
            anvil unix - - n - 1 anvil
            bounce unix - - n - 0 bounce
            postlog unix-dgram n - n - 1 postlogd
            """
                .formatted(port));
      }

      @Override
      List<String> start(Path home) {
        return List.of(program(), "-c", home.toString(), "start-fg");
      }

      @Override
      List<String> stop(Path home) {
        return List.of(program(), "-c", home.toString(), "abort");
      }

      @Override
      boolean hasPort() {
        return false;
      }
    },
    MARIADB(ServerTalk.MARIADB, "/usr/sbin/mariadbd") {
      @Override
      void install(Path home, int port) throws IOException {
        Path data = home.resolveSibling("data");
        folder(home, "mariadb.conf.d");
        file(
            home,
            "mariadb.cnf",
            "[client-server]\n# none\n!includedir " + home + "/mariadb.conf.d/\n");
        file(
            home,
            "mariadb.conf.d/50-server.cnf",
            """
            [mariadbd]
            datadir="%s"
            socket=%s/maria.socket # beside its data
            bind_address=127.0.0.1
            port=%d
            skip_name_resolve
            innodb_fast_shutdown=2
            init_file=%s/accounts.sql
            user=mysql
            """
                .formatted(data, data, port, home.getParent()));
        file(
            home.resolve("..").normalize(),
            "accounts.sql",
            "CREATE USER IF NOT EXISTS buoy@'%' REQUIRE X509;\n");
        ConfiguredServers.call(
            List.of(
                "mariadb-install-db",
                "--no-defaults",
                "--datadir=" + data,
                "--auth-root-authentication-method=normal",
                "--skip-test-db",
                "--user=mysql"));
      }

      @Override
      List<String> start(Path home) {
        return List.of(program(), "--defaults-file=" + home + "/mariadb.cnf");
      }

      @Override
      boolean hasPort() {
        return false;
      }

      @Override
      List<String> modes() {
        return List.of("optional"); // and its account wants a certificate
      }
    };

    private final ServerTalk talk;
    private final String program;

    Described(ServerTalk talk, String program) {
      this.talk = talk;
      this.program = program;
    }

    final String program() {
      return program;
    }

    abstract void install(Path home, int port) throws IOException;

    abstract List<String> start(Path home);

    List<String> stop(Path home) {
      return List.of();
    }

    /** Whether its port is among what is configured. */
    boolean hasPort() {
      return true;
    }

    List<String> modes() {
      return List.of("one-way", "mutual");
    }

    static void folder(Path home, String name) {
      try {
        Files.createDirectories(home.resolve(name));
        Files.setPosixFilePermissions(
            home.resolve(name), PosixFilePermissions.fromString("rwxr-xr-x"));
      } catch (IOException e) {
        throw new java.io.UncheckedIOException(e);
      }
    }

    void assume() {
      boolean there =
          Files.exists(Path.of(program)) && "root".equals(System.getProperty("user.name"));
      assertTrue(there || !"true".equals(System.getenv("CI")), program + "; .ci/run installs it");
      Assumptions.assumeTrue(there, program + " is not installed, or this is not root");
    }
  }

  @ParameterizedTest
  @EnumSource
  void whatIsWrittenIsWhatTheServerDoes(Described server) throws Exception {
    server.assume();
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    Described.folder(temp, "etc");
    home = temp.resolve("etc");
    port = FreePort.take();
    server.install(home, port);
    try (Stream<Path> all = Files.walk(home)) {
      for (Path path : all.filter(Files::isRegularFile).toList()) {
        Files.setPosixFilePermissions(path, PosixFilePermissions.fromString("rw-r--r--"));
      }
    }
    if (Files.exists(temp.resolve("accounts.sql"))) {
      Files.setPosixFilePermissions(
          temp.resolve("accounts.sql"), PosixFilePermissions.fromString("rw-r--r--"));
    }
    for (String mode : server.modes()) {
      Run written = configure(server, mode);
      assertEquals(0, written.code(), written.out() + written.err());
      Process running = started(server);
      try {
        assertTrue(served(server, Optional.of(BUOY)), mode + ": a good client\n" + log());
        boolean without = served(server, Optional.empty());
        assertEquals(mode.equals("one-way"), without, mode + ": a client without a certificate");
      } finally {
        stop(server, running);
      }
      Run again = configure(server, mode);
      assertTrue(again.out().contains("all is as it is wanted"), again.out() + again.err());
    }
    Run read =
        Run.of(
            "configure",
            server.name().toLowerCase(java.util.Locale.ROOT),
            "--home",
            home,
            "--json");
    String last = server.modes().get(server.modes().size() - 1);
    assertTrue(
        read.json().get("servers").findValuesAsText("mode").contains(last),
        read.out() + read.err());
  }

  private boolean served(Described server, Optional<Credential> credential) {
    return server.talk.isServed(port, HOST, root(), credential);
  }

  private String log() throws IOException {
    return Files.readString(temp.resolve("server.log"));
  }

  private Run configure(Described server, String mode) {
    file(temp, "ingest.pem", pem(INGEST.certificate(), issuing()));
    file(temp, "ingest.key", keyPem(INGEST));
    file(temp, "trust.pem", pem(root(), issuing()));
    file(temp, "buoy.pem", pem(BUOY.certificate(), issuing()));
    file(temp, "buoy.key", keyPem(BUOY));
    List<Object> line =
        new ArrayList<>(
            List.of("configure", server.name().toLowerCase(java.util.Locale.ROOT), "--home", home));
    line.addAll(List.of("--credential", temp.resolve("ingest.key"), temp.resolve("ingest.pem")));
    line.addAll(List.of(temp.resolve("trust.pem"), "--host", HOST, "--mode", mode, "--write"));
    if (server.hasPort()) {
      line.addAll(List.of("--port", String.valueOf(port)));
    }
    if (!mode.equals("one-way")) {
      line.addAll(List.of("--client-trust", temp.resolve("trust.pem")));
      line.addAll(List.of("--client", temp.resolve("buoy.key"), temp.resolve("buoy.pem")));
    }
    return Run.of(line.toArray());
  }

  private Process started(Described server) throws IOException {
    Process process =
        new ProcessBuilder(server.start(home))
            .directory(temp.toFile())
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("server.log").toFile())
            .start();
    while (process.isAlive()) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (socket.isConnected()) {
          return process;
        }
      } catch (IOException e) {
        ProcessServer.pause();
      }
    }
    throw new IOException(server + " did not start: " + log());
  }

  private void stop(Described server, Process process) throws IOException, InterruptedException {
    if (!server.stop(home).isEmpty()) {
      ConfiguredServers.call(server.stop(home));
    }
    process.destroy();
    assertTrue(process.waitFor(60, TimeUnit.SECONDS), server + " ends");
    assertFalse(process.isAlive());
  }
}
