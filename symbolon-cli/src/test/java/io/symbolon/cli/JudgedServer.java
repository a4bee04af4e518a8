// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.NginxProgram;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Assumptions;

/** The servers that verdicts are held against, each started with the same files. */
enum JudgedServer {
  NGINX(ServerTalk.HTTP, "/usr/sbin/nginx") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path log = files.folder().resolve("nginx.log");
      String settings =
          Files.readString(
              files.settings(
                  "nginx.part",
                  port,
                  """
                  server {
                    listen 127.0.0.1:{port} ssl;
                    ssl_certificate {chain};
                    ssl_certificate_key {key};
                    ssl_client_certificate {trust};
                    ssl_verify_client on;
                    ssl_protocols TLSv1.2 TLSv1.3;
                  """
                      + (files.hasLists() ? "ssl_crl {lists};\n" : "")
                      + "  location / { return 200 '17 buoys reporting'; }\n}\n"));
      return new Started(NginxProgram.start(files.own("nginx"), log, port, settings), log, port);
    }
  },
  HTTPD(ServerTalk.HTTP, "/usr/sbin/apache2") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path settings =
          files.settings(
              "httpd.conf",
              port,
              """
              LoadModule mpm_event_module /usr/lib/apache2/modules/mod_mpm_event.so
              LoadModule authz_core_module /usr/lib/apache2/modules/mod_authz_core.so
              LoadModule socache_shmcb_module /usr/lib/apache2/modules/mod_socache_shmcb.so
              LoadModule ssl_module /usr/lib/apache2/modules/mod_ssl.so
              ServerName localhost
              ServerRoot {folder}
              DefaultRuntimeDir {folder}
              PidFile {folder}/httpd.pid
              ErrorLog {folder}/httpd.log
              Mutex file:{folder}
              User www-data
              Group www-data
              Listen 127.0.0.1:{port}
              <VirtualHost 127.0.0.1:{port}>
                SSLEngine on
                SSLCertificateFile {chain}
                SSLCertificateKeyFile {key}
                SSLCACertificateFile {trust}
                SSLVerifyClient require
                SSLVerifyDepth 2
              """
                  + (files.hasLists()
                      ? "SSLCARevocationFile {lists}\nSSLCARevocationCheck chain\n"
                      : "")
                  + "</VirtualHost>\n");
      return Started.of(files, port, program(), "-X", "-f", settings.toString());
    }
  },
  HAPROXY(ServerTalk.HTTP, "/usr/sbin/haproxy") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path beside = files.chain().resolveSibling(files.chain().getFileName() + ".key");
      Files.copy(files.key(), beside, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
      Path settings =
          files.settings(
              "haproxy.cfg",
              port,
              """
              defaults
                mode http
                timeout connect 20s
                timeout client 20s
                timeout server 20s
              frontend buoys
                bind 127.0.0.1:{port} ssl crt {chain} ca-file {trust} verify required\
              """
                  + (files.hasLists() ? " crl-file {lists}" : "")
                  + "\n  http-request return status 200\n");
      return Started.of(files, port, program(), "-db", "-f", settings.toString());
    }
  },
  MOSQUITTO(ServerTalk.MQTT, "/usr/sbin/mosquitto") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path settings =
          files.settings(
              "mosquitto.conf",
              port,
              """
              user root
              allow_anonymous true
              listener {port} 127.0.0.1
              certfile {chain}
              keyfile {key}
              cafile {trust}
              require_certificate true
              """
                  + (files.hasLists() ? "crlfile {lists}\n" : ""));
      return Started.of(files, port, program(), "-c", settings.toString());
    }
  },
  REDIS(ServerTalk.REDIS, "/usr/bin/redis-server") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path settings =
          files.settings(
              "redis.conf",
              port,
              """
              port 0
              bind 127.0.0.1
              tls-port {port}
              tls-cert-file "{chain}"
              tls-key-file "{key}"
              tls-ca-cert-file "{trust}"
              save ""
              dir {folder}
              """);
      return Started.of(files, port, program(), settings.toString());
    }
  },
  OPENLDAP(ServerTalk.LDAP, "/usr/sbin/slapd") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      files.own("directory");
      Path settings =
          files.settings(
              "slapd.conf",
              port,
              """
              include /etc/ldap/schema/core.schema
              modulepath /usr/lib/ldap
              moduleload back_mdb
              TLSCertificateFile {chain}
              TLSCertificateKeyFile {key}
              TLSCACertificateFile {trust}
              TLSVerifyClient demand
              """
                  + (files.hasLists() ? "TLSCRLFile {lists}\n" : "")
                  + "database mdb\nsuffix o=Lanternfish\ndirectory {folder}/directory\n");
      return Started.of(
          files,
          port,
          program(),
          "-d",
          "0",
          "-f",
          settings.toString(),
          "-h",
          "ldaps://127.0.0.1:" + port);
    }
  },
  POSTFIX(ServerTalk.SMTP, "/usr/sbin/postfix") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      files.open();
      for (String own : List.of("queue", "data", "mail")) {
        files.own(own);
      }
      Files.setOwner(
          files.folder().resolve("data"),
          files
              .folder()
              .getFileSystem()
              .getUserPrincipalLookupService()
              .lookupPrincipalByName("postfix"));
      Path both = files.folder().resolve("mail").resolve("chain.pem");
      Files.write(both, Files.readAllBytes(files.key()));
      Files.write(both, Files.readAllBytes(files.chain()), java.nio.file.StandardOpenOption.APPEND);
      files.settings(
          "mail/main.cf",
          port,
          """
          compatibility_level = 3.6
          queue_directory = {folder}/queue
          data_directory = {folder}/data
          command_directory = /usr/sbin
          daemon_directory = /usr/lib/postfix/sbin
          mail_owner = postfix
          setgid_group = postdrop
          myhostname = relay.lanternfish.example
          inet_interfaces = 127.0.0.1
          inet_protocols = ipv4
          alias_maps =
          local_recipient_maps =
          maillog_file = {folder}/postfix.log
          maillog_file_prefixes = /
          smtpd_tls_chain_files = {folder}/mail/chain.pem
          smtpd_tls_security_level = encrypt
          smtpd_tls_ask_ccert = yes
          smtpd_tls_req_ccert = yes
          smtpd_tls_CAfile = {trust}
          """);
      files.settings(
          "mail/master.cf",
          port,
          """
          127.0.0.1:{port} inet n - n - - smtpd -o smtpd_tls_wrappermode=yes
          cleanup unix n - n - 0 cleanup
          rewrite unix - - n - - trivial-rewrite
          proxymap unix - - n - - proxymap
          tlsmgr unix - - n 1000? 1 tlsmgr
          anvil unix - - n - 1 anvil
          bounce unix - - n - 0 bounce
          postlog unix-dgram n - n - 1 postlogd
          """);
      String home = files.folder().resolve("mail").toString();
      // "start-fg" puts the master into a session of its own; "stop" below ends all of it.
      Started server =
          Started.of(files, port, program(), "-c", home, "start-fg")
              .endedBy(List.of(program(), "-c", home, "abort"));
      return server;
    }
  },
  DOVECOT(ServerTalk.IMAP, "/usr/sbin/dovecot") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      files.open();
      files.own("run");
      Path all = files.folder().resolve("trust-and-lists.pem");
      Files.write(all, Files.readAllBytes(files.trust()));
      Files.write(all, Files.readAllBytes(files.lists()), java.nio.file.StandardOpenOption.APPEND);
      Path settings =
          files.settings(
              "dovecot.conf",
              port,
              """
              base_dir = {folder}/run
              state_dir = {folder}/run
              log_path = {folder}/dovecot.log
              protocols = imap
              listen = 127.0.0.1
              ssl = required
              ssl_cert = <{chain}
              ssl_key = <{key}
              ssl_ca = <{folder}/trust-and-lists.pem
              ssl_verify_client_cert = yes
              auth_ssl_require_client_cert = yes
              auth_mechanisms = plain
              """
                  + (files.hasLists() ? "" : "ssl_require_crl = no\n")
                  + """
                  passdb {
                    driver = static
                    args = nopassword=y
                  }
                  userdb {
                    driver = static
                    args = uid=65534 gid=65534 home={folder}/run
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
                  """);
      return Started.of(files, port, program(), "-F", "-c", settings.toString());
    }
  },
  POSTGRESQL(ServerTalk.POSTGRESQL, "/usr/lib/postgresql") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Map<String, Path> settings =
          new java.util.HashMap<>(
              Map.of(
                  "ssl_cert_file", files.chain(),
                  "ssl_key_file", files.key(),
                  "ssl_ca_file", files.trust()));
      if (files.hasLists()) {
        settings.put("ssl_crl_file", files.lists());
      }
      try {
        return Postgres.start(
            Postgres.database(files.folder()),
            files.folder(),
            settings,
            "hostssl all all 127.0.0.1/32 trust clientcert=verify-ca");
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new IOException(e);
      }
    }
  },
  MARIADB(ServerTalk.MARIADB, "/usr/sbin/mariadbd") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path data = files.folder().resolve("data");
      Path settings =
          files.settings(
              "maria.cnf",
              port,
              """
              [mariadbd]
              datadir="{folder}/data"
              socket="{folder}/maria.socket"
              bind_address=127.0.0.1
              port={port}
              skip_name_resolve
              innodb_fast_shutdown=2
              init_file="{folder}/accounts.sql"
              ssl_cert="{chain}"
              ssl_key="{key}"
              ssl_ca="{trust}"
              """
                  + (files.hasLists() ? "ssl_crl=\"{lists}\"\n" : ""));
      Files.writeString(
          files.folder().resolve("accounts.sql"),
          "CREATE USER IF NOT EXISTS buoy@'%' REQUIRE X509;\n");
      Started.finish(
          files,
          "mariadb-install-db",
          "--no-defaults",
          "--datadir=" + data,
          "--auth-root-authentication-method=normal",
          "--skip-test-db",
          "--user=" + System.getProperty("user.name"));
      return Started.of(
          files,
          port,
          program(),
          "--defaults-file=" + settings,
          "--user=" + System.getProperty("user.name"));
    }
  },
  TOMCAT(ServerTalk.HTTP, "/") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      return TomcatServer.start(
          files.folder(),
          host -> {
            host.setTruststoreFile(trusted(files).toString());
            host.setTruststorePassword("rope-of-17");
            host.setTruststoreType("PKCS12");
            if (files.lists().toFile().length() > 0) {
              host.setCertificateRevocationListFile(files.lists().toString());
            }
          },
          certificate -> {
            certificate.setCertificateFile(files.chain().toString());
            certificate.setCertificateKeyFile(files.key().toString());
          });
    }
  },
  JETTY(ServerTalk.HTTP, "/") {
    @Override
    RealServer start(ServerFiles files, int port) throws IOException {
      Path keys = files.folder().resolve("keys.p12");
      Files.deleteIfExists(keys);
      Run joined =
          Run.of(
              "join",
              files.key(),
              files.chain(),
              "--into",
              keys,
              "--incomplete-chain",
              "--seal",
              "file=" + Files.writeString(files.folder().resolve("word"), "rope-of-17\n"));
      assertTrue(joined.code() <= 1 && Files.exists(keys), joined.err());
      return JettyServer.start(
          tls -> {
            tls.setKeyStorePath(keys.toString());
            tls.setKeyStorePassword("rope-of-17");
            tls.setTrustStorePath(trusted(files).toString());
            tls.setTrustStorePassword("rope-of-17");
            tls.setNeedClientAuth(true);
            if (files.lists().toFile().length() > 0) {
              tls.setCrlPath(files.lists().toString());
              tls.setValidatePeerCerts(true);
            }
          });
    }
  };

  private final ServerTalk talk;
  private final Path path;

  JudgedServer(ServerTalk talk, String path) {
    this.talk = talk;
    this.path = Path.of(path);
  }

  String word() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }

  final String program() {
    return path.toString();
  }

  ServerTalk talk() {
    return talk;
  }

  /** Where it is missing a test is skipped, but never where CI promises that it is there. */
  void assume() {
    boolean there = Files.exists(path);
    assertTrue(there || !"true".equals(System.getenv("CI")), path + "; .ci/run installs it");
    Assumptions.assumeTrue(there, path + " is not installed");
  }

  /**
   * Starts it, on this port or one of its own.
   *
   * @throws IOException if it does not start
   */
  abstract RealServer start(ServerFiles files, int port) throws IOException;

  final RealServer start(ServerFiles files) throws IOException {
    return start(files, FreePort.take());
  }

  /** A truststore of the platform's own making. */
  private static Path trusted(ServerFiles files) {
    Path store = files.folder().resolve("trusted.p12");
    try (java.io.OutputStream out = Files.newOutputStream(store)) {
      KeyStore trusted = KeyStore.getInstance("PKCS12");
      trusted.load(null, null);
      int number = 0;
      for (var read :
          java.security.cert.CertificateFactory.getInstance("X.509")
              .generateCertificates(Files.newInputStream(files.trust()))) {
        trusted.setCertificateEntry("trusted" + ++number, read);
      }
      trusted.store(out, "rope-of-17".toCharArray());
    } catch (IOException | GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
    return store;
  }

  /** Whether a client is served by it. */
  boolean isServed(
      RealServer server,
      String host,
      Certificate root,
      Optional<io.symbolon.chain.Credential> credential) {
    return talk.isServed(server.port(), host, root, credential);
  }

  /** One that is a process and listens. */
  private static final class Started extends ProcessServer {
    private List<String> end = List.of();

    Started(Process process, Path log, int port) {
      super(process, log, port);
    }

    Started endedBy(List<String> command) {
      end = command;
      return this;
    }

    /** Starts it, and waits until it listens. */
    static Started of(ServerFiles files, int port, String... command) throws IOException {
      Path log = files.folder().resolve("server.log");
      Process process =
          new ProcessBuilder(command)
              .directory(files.folder().toFile())
              .redirectInput(Path.of("/dev/null").toFile())
              .redirectErrorStream(true)
              .redirectOutput(log.toFile())
              .start();
      while (process.isAlive()) {
        try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
          if (socket.isConnected()) {
            return new Started(process, log, port);
          }
        } catch (IOException e) {
          pause();
        }
      }
      throw new IOException("it did not start: " + Files.readString(log));
    }

    static void finish(ServerFiles files, String... command) throws IOException {
      Path log = files.folder().resolve("before.log");
      Process process =
          new ProcessBuilder(command)
              .redirectErrorStream(true)
              .redirectOutput(log.toFile())
              .start();
      try {
        if (!process.waitFor(180, TimeUnit.SECONDS) || process.exitValue() != 0) {
          throw new IllegalStateException(Files.readString(log));
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }

    @Override
    void end() {
      if (!end.isEmpty()) {
        try {
          new ProcessBuilder(end).start().waitFor(60, TimeUnit.SECONDS);
        } catch (IOException e) {
          throw new IllegalStateException(e);
        } catch (InterruptedException e) {
          Thread.currentThread().interrupt();
        }
      }
    }
  }
}
