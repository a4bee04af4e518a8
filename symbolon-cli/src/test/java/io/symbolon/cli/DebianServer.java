// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Assumptions;

/** Servers as Debian has them, in clear text, before they are configured. */
enum DebianServer implements WrittenServer {
  HAPROXY(ServerTalk.HTTP, "/usr/sbin/haproxy") {
    @Override
    public void install(Path home, int port) {
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
    public List<String> start(Path home) {
      return List.of(program, "-db", "-f", home + "/haproxy.cfg");
    }
  },
  MOSQUITTO(ServerTalk.MQTT, "/usr/sbin/mosquitto") {
    @Override
    public void install(Path home, int port) {
      file(
          home,
          "mosquitto.conf",
          "user mosquitto\nallow_anonymous true\ninclude_dir " + home + "/conf.d\n");
      WrittenServer.folder(home, "conf.d");
    }

    @Override
    public List<String> start(Path home) {
      return List.of(program, "-c", home + "/mosquitto.conf");
    }

    @Override
    public List<String> modes() {
      return List.of("one-way", "mutual"); // it has no other
    }
  },
  REDIS(ServerTalk.REDIS, "/usr/bin/redis-server") {
    @Override
    public void install(Path home, int port) {
      file(
          home,
          "redis.conf",
          "# One store\r\nbind 127.0.0.1\r\nport 0\r\nsave \"\"\r\ndir "
              + home.getParent()
              + "\r\n");
    }

    @Override
    public List<String> start(Path home) {
      return List.of("runuser", "-u", "redis", "--", program, home + "/redis.conf");
    }
  },
  DOVECOT(ServerTalk.IMAP, "/usr/sbin/dovecot") {
    @Override
    public void install(Path home, int port) {
      WrittenServer.folder(home, "run");
      WrittenServer.folder(home, "conf.d");
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
    public List<String> start(Path home) {
      return List.of(program, "-F", "-c", home + "/dovecot.conf");
    }

    @Override
    public boolean hasPort() {
      return false;
    }
  },
  POSTFIX(ServerTalk.SMTP, "/usr/sbin/postfix") {
    @Override
    public void install(Path home, int port) throws IOException {
      for (String own : List.of("queue", "data")) {
        WrittenServer.folder(home.resolve("..").normalize(), own);
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
    public List<String> start(Path home) {
      return List.of(program, "-c", home.toString(), "start-fg");
    }

    @Override
    public List<String> stop(Path home) {
      return List.of(program, "-c", home.toString(), "abort");
    }

    @Override
    public boolean hasPort() {
      return false;
    }
  },
  SQUID(ServerTalk.PROXY, "/usr/sbin/squid") {
    @Override
    public void install(Path home, int port) throws IOException {
      WrittenServer.folder(home.resolve("..").normalize(), "run");
      Files.setOwner(
          home.resolveSibling("run"),
          home.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("proxy"));
      file(
          home,
          "squid.conf",
          """
          http_access deny all
          pid_filename {parent}/run/squid.pid
          cache_log {parent}/run/cache.log
          coredump_dir {parent}/run
          access_log none
          visible_hostname cache.lanternfish.example
          shutdown_lifetime 0 seconds
          # its listeners
          """
              .replace("{parent}", String.valueOf(home.getParent())));
    }

    @Override
    public List<String> start(Path home) {
      return List.of(program, "-N", "-d1", "-n", service(home), "-f", home + "/squid.conf");
    }

    /** A name of its own, beside the machine's. */
    private static String service(Path home) {
      return "lanternfish" + Math.floorMod(home.toString().hashCode(), 100_000);
    }

    @Override
    public List<String> modes() {
      return List.of("one-way", "mutual"); // it has no other
    }
  },
  LIGHTTPD(ServerTalk.HTTP, "/usr/sbin/lighttpd") {
    @Override
    public void install(Path home, int port) throws IOException {
      WrittenServer.folder(home, "conf-enabled");
      file(home, "page.html", "<p>readings</p>\n");
      file(
          home,
          "lighttpd.conf",
          """
          server.modules = (
          \t"mod_access",
          )
          server.document-root = "{home}"
          server.bind = "127.0.0.1"
          index-file.names = ( "page.html" )
          include "conf-enabled/*.conf"
          """
              .replace("{home}", home.toString()));
      file(
          home,
          "conf-enabled/10-ssl.conf",
          """
          server.modules += ( "mod_openssl" )
          ssl.pemfile = "/etc/lighttpd/server.pem"

          $SERVER["socket"] == "0.0.0.0:%d" {
          \tssl.engine  = "enable"
          }
          """
              .formatted(port));
    }

    @Override
    public List<String> start(Path home) {
      return List.of(program, "-D", "-f", home + "/lighttpd.conf");
    }

    @Override
    public boolean hasPort() {
      return false;
    }
  },
  VSFTPD(ServerTalk.FTP, "/usr/sbin/vsftpd") {
    @Override
    public void install(Path home, int port) {
      file(
          home,
          "vsftpd.conf",
          """
          listen=YES
          listen_address=127.0.0.1
          listen_port=%d
          background=NO
          anonymous_enable=NO
          local_enable=YES
          secure_chroot_dir=%s
          ssl_enable=NO
          """
              .formatted(port, home));
    }

    @Override
    public List<String> start(Path home) {
      return List.of(program, home + "/vsftpd.conf");
    }

    @Override
    public boolean hasPort() {
      return false;
    }

    @Override
    public List<String> modes() {
      return List.of("one-way", "mutual"); // it has no other
    }
  },
  RABBITMQ(ServerTalk.AMQP, "/usr/sbin/rabbitmq-server") {
    @Override
    public void install(Path home, int port) throws IOException {
      file(home, "rabbitmq.conf", "# Only TLS\nlisteners.tcp = none\nlog.console = true\n");
      file(home, "enabled_plugins", "[].\n");
      for (String own : List.of("data", "log")) {
        Path folder = home.resolveSibling(own);
        WrittenServer.folder(home.resolve("..").normalize(), own);
        Files.setOwner(
            folder,
            home.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("rabbitmq"));
      }
    }

    private List<String> as(Path home, String... words) {
      List<String> all =
          new ArrayList<>(
              List.of(
                  "runuser",
                  "-u",
                  "rabbitmq",
                  "--",
                  "env",
                  "HOME=" + home.resolveSibling("data"),
                  "ERL_EPMD_PORT=" + epmd(home),
                  "RABBITMQ_NODENAME=lanternfish@localhost",
                  "RABBITMQ_CONFIG_FILE=" + home + "/rabbitmq.conf",
                  "RABBITMQ_CONF_ENV_FILE=/nowhere",
                  "RABBITMQ_ENABLED_PLUGINS_FILE=" + home + "/enabled_plugins",
                  "RABBITMQ_MNESIA_BASE=" + home.resolveSibling("data"),
                  "RABBITMQ_LOG_BASE=" + home.resolveSibling("log")));
      all.addAll(List.of(words));
      return all;
    }

    /** A register of nodes of its own, beside the machine's. */
    private static int epmd(Path home) {
      return 20_000 + Math.floorMod(home.toString().hashCode(), 10_000);
    }

    @Override
    public List<String> start(Path home) {
      return as(home, "/usr/lib/rabbitmq/bin/rabbitmq-server");
    }

    @Override
    public List<String> stop(Path home) {
      return as(
          home, "sh", "-c", "/usr/lib/rabbitmq/bin/rabbitmqctl shutdown --no-wait; epmd -kill");
    }
  },
  MARIADB(ServerTalk.MARIADB, "/usr/sbin/mariadbd") {
    @Override
    public void install(Path home, int port) throws IOException {
      Path data = home.resolveSibling("data");
      WrittenServer.folder(home, "mariadb.conf.d");
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
    public List<String> start(Path home) {
      return List.of(program, "--defaults-file=" + home + "/mariadb.cnf");
    }

    @Override
    public boolean hasPort() {
      return false;
    }

    @Override
    public List<String> modes() {
      return List.of("optional");
    }

    @Override
    public boolean servesWithout(String mode) {
      return false; // its account wants a certificate
    }
  };

  final String program;
  private final ServerTalk talk;

  DebianServer(ServerTalk talk, String program) {
    this.talk = talk;
    this.program = program;
  }

  @Override
  public ServerTalk talk() {
    return talk;
  }

  @Override
  public void assume() {
    boolean there =
        Files.exists(Path.of(program)) && "root".equals(System.getProperty("user.name"));
    assertTrue(there || !"true".equals(System.getenv("CI")), program + "; .ci/run installs it");
    Assumptions.assumeTrue(there, program + " is not installed, or this is not root");
  }
}
