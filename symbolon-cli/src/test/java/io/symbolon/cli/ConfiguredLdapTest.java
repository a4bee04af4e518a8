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
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** A real OpenLDAP, whose settings are changed over its own socket while it runs. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ConfiguredLdapTest {
  private static final String PROGRAM = "/usr/sbin/slapd";
  private static final Credential BUOY =
      ISSUING.issue(
          Lanternfish.name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;
  private Optional<Process> running = Optional.empty();
  private int port;
  private String socket = "";

  @AfterEach
  void stop() throws InterruptedException {
    if (running.isPresent()) {
      running.get().destroy();
      assertTrue(running.get().waitFor(60, TimeUnit.SECONDS), "slapd ends");
    }
  }

  @Test
  void certificateAndKeyGoInTogetherAndWhatIsRefusedIsPutRight() throws Exception {
    boolean there =
        Files.exists(Path.of(PROGRAM))
            && Files.exists(Path.of("/usr/bin/ldapmodify"))
            && "root".equals(System.getProperty("user.name"));
    assertTrue(there || !"true".equals(System.getenv("CI")), "slapd; .ci/run installs it");
    Assumptions.assumeTrue(there, "slapd or ldap-utils is not installed, or this is not root");
    start();
    Run once = configure("one-way", temp.resolve("ldap/tls"));
    assertEquals(0, once.code(), once.out() + once.err());
    assertTrue(served(Optional.empty()), "one-way");
    Run mutual = configure("mutual", temp.resolve("ldap/tls"));
    assertEquals(0, mutual.code(), mutual.out() + mutual.err());
    assertTrue(mutual.out().contains("the server does what is wanted"), mutual.out());
    assertTrue(served(Optional.of(BUOY)), "mutual, a good client");
    assertFalse(served(Optional.empty()), "mutual, a client without a certificate");
    assertTrue(
        configure("mutual", temp.resolve("ldap/tls")).out().contains("all is as it is wanted"));

    // Its account can't look into this folder: that is told before.
    Path hidden = Files.createDirectory(temp.resolve("hidden"));
    Files.setPosixFilePermissions(hidden, PosixFilePermissions.fromString("rwx------"));
    Run told = configure("mutual", hidden.resolve("tls"));
    assertEquals(4, told.code(), told.out() + told.err());
    assertTrue(told.out().contains("may not enter the folder"), told.out());
    assertFalse(Files.exists(hidden.resolve("tls")));

    // The server refuses these words, and its TLS is broken by that until it is put right.
    String before = settings();
    Run refused = configure("mutual", temp.resolve("ldap/other"), "--ciphers", "LANTERN");
    assertEquals(4, refused.code(), refused.out() + refused.err());
    assertTrue(refused.out().contains("error (80)"), refused.out());
    assertEquals(tls(before), tls(settings()));
    assertFalse(Files.exists(temp.resolve("ldap/other/ingest.lanternfish.example.key")));
    assertTrue(served(Optional.of(BUOY)), "put right: a good client gets in as before");

    // What it prints for taking it back does so.
    Run read = Run.of("configure", "openldap", "--home", temp.resolve("ldap"), "--json");
    assertTrue(read.json().get("servers").findValuesAsText("mode").contains("mutual"), read.out());
    String back =
        mutual
            .out()
            .lines()
            .filter(line -> line.contains("printf") && line.contains("olcTLSVerifyClient: never"))
            .findFirst()
            .orElseThrow();
    ConfiguredServers.call(List.of("sh", "-c", back.strip()));
    assertTrue(served(Optional.empty()), "one-way again");
  }

  /** The wrong server answers at the socket: nothing is changed. */
  @Test
  void anotherServersSettingsAreNotChanged() throws Exception {
    Assumptions.assumeTrue(
        Files.exists(Path.of(PROGRAM)) && "root".equals(System.getProperty("user.name")));
    start();
    Path main = temp.resolve("ldap/slapd.d/cn=config.ldif");
    Files.writeString(
        main,
        Files.readString(main)
            .replaceFirst("entryUUID: .*", "entryUUID: 0017b0f7-0000-1041-9b1d-000000000017"));
    Run refused = configure("one-way", temp.resolve("ldap/tls"));
    assertEquals(4, refused.code(), refused.out() + refused.err());
    assertTrue(refused.out().contains("ask whether"), refused.out());
    assertFalse(Files.exists(temp.resolve("ldap/tls/ingest.lanternfish.example.key")));
    assertFalse(served(Optional.empty()));
  }

  private boolean served(Optional<Credential> client) {
    return ServerTalk.LDAP.isServed(port, HOST, root(), client);
  }

  private String settings() throws IOException {
    return Files.readString(temp.resolve("ldap/slapd.d/cn=config.ldif")).replace("\n ", "");
  }

  private static List<String> tls(String settings) {
    return settings.lines().filter(line -> line.startsWith("olcTLS")).sorted().toList();
  }

  private void start() throws Exception {
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    for (String folder : List.of("ldap", "ldap/slapd.d", "run", "default")) {
      WrittenServer.folder(temp, folder);
    }
    port = FreePort.take();
    socket =
        "ldapi://"
            + URLEncoder.encode(temp.resolve("run/ldapi").toString(), StandardCharsets.UTF_8);
    String services = "ldaps://127.0.0.1:" + port + "/ " + socket;
    file(temp, "default/slapd", "SLAPD_USER=openldap\nSLAPD_SERVICES=\"" + services + "\"\n");
    file(
        temp,
        "settings.ldif",
        """
        dn: cn=config
        objectClass: olcGlobal
        cn: config
        olcPidFile: %s/run/slapd.pid

        dn: olcDatabase={0}config,cn=config
        objectClass: olcDatabaseConfig
        olcDatabase: {0}config
        olcAccess: {0}to * by dn.exact=gidNumber=0+uidNumber=0,cn=peercred,cn=external,cn=auth
          manage by * break
        """
            .formatted(temp));
    Path folder = temp.resolve("ldap/slapd.d");
    ConfiguredServers.call(
        List.of(
            "/usr/sbin/slapadd",
            "-n0",
            "-F",
            folder.toString(),
            "-l",
            temp.resolve("settings.ldif").toString()));
    ConfiguredServers.call(
        List.of("chown", "-R", "openldap:openldap", folder.toString(), temp + "/run"));
    Process process =
        new ProcessBuilder(
                PROGRAM,
                "-h",
                services,
                "-u",
                "openldap",
                "-g",
                "openldap",
                "-F",
                folder + "",
                "-d0")
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("slapd.log").toFile())
            .start();
    running = Optional.of(process);
    while (process.isAlive()) {
      try (Socket plain = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (plain.isConnected()) {
          return;
        }
      } catch (IOException e) {
        ProcessServer.pause();
      }
    }
    throw new IOException(Files.readString(temp.resolve("slapd.log")));
  }

  private Run configure(String mode, Path place, String... more) {
    file(temp, "ingest.pem", pem(INGEST.certificate(), issuing()));
    file(temp, "ingest.key", keyPem(INGEST));
    file(temp, "trust.pem", pem(root(), issuing()));
    file(temp, "buoy.pem", pem(BUOY.certificate(), issuing()));
    file(temp, "buoy.key", keyPem(BUOY));
    List<Object> line =
        new ArrayList<>(
            List.of("configure", "openldap", "--home", temp.resolve("ldap"), "--place", place));
    line.addAll(List.of("--credential", temp.resolve("ingest.key"), temp.resolve("ingest.pem")));
    line.addAll(List.of(temp.resolve("trust.pem"), "--host", HOST, "--mode", mode, "--write"));
    line.add("--reload");
    if (!mode.equals("one-way")) {
      line.addAll(List.of("--client-trust", temp.resolve("trust.pem")));
      line.addAll(List.of("--client", temp.resolve("buoy.key"), temp.resolve("buoy.pem")));
    }
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }
}
