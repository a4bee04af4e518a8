// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.google.common.jimfs.Configuration;
import com.google.common.jimfs.Jimfs;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.file.Undo;
import io.symbolon.finding.Finding;
import io.symbolon.server.ClientKinds;
import io.symbolon.server.Installation;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystem;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclFileAttributeView;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Servers and clients as they lie on a Windows, on a file system in memory with its rules: drives
 * and shares, blanks in names, backslashes, lines that end in two characters, services.
 */
class WindowsSettingsTest {
  private static final String SERVICE = "NT SERVICE\\Service";

  private final List<List<String>> commands = new ArrayList<>();
  private FileSystem windows;
  private Machine machine;

  @BeforeEach
  void drives() {
    windows =
        Jimfs.newFileSystem(
            Configuration.windows().toBuilder()
                .setRoots("C:\\", "\\\\store\\keys\\")
                .setAttributeViews("basic", "owner", "acl", "dos")
                .build());
    machine =
        new Machine(
            windows.getPath("C:\\"),
            FileView.disk(),
            command -> {
              commands.add(command.words());
              return new CommandResult(CommandResult.End.ENDED, 0, "");
            });
  }

  @AfterEach
  void close() throws IOException {
    windows.close();
  }

  private Path write(String path, String text) throws IOException {
    Path file = windows.getPath(path);
    Files.createDirectories(folder(file));
    return Files.writeString(file, text.replace("\n", "\r\n"));
  }

  private static Path folder(Path file) {
    return java.util.Objects.requireNonNull(file.getParent());
  }

  private static Wish mutual() {
    return Wish.of(INGEST.withoutRoot())
        .withClients(Mode.MUTUAL, new ClientTrust(List.of(root(), issuing()), List.of()))
        .withHosts(List.of(HostName.parse(HOST)))
        .withOwner(new Owner(SERVICE, java.util.Optional.empty()));
  }

  private ServerTls only(String name) {
    Server server = Servers.named(name).orElseThrow();
    List<Installation> found = server.find(machine);
    assertEquals(1, found.size(), name);
    return of(server, found.get(0));
  }

  private ServerTls of(Server server, Installation installation) {
    return ServerTls.of(server, machine, installation, Surveyor.create(), Clock.systemUTC());
  }

  /** Makes the change; a second time changes nothing, and what was there comes back. */
  private String changed(ServerTls tls, Wish wish, Path settings, boolean comesBack)
      throws IOException {
    byte[] before = Files.readAllBytes(settings);
    ServerChange change = tls.plan(wish, List.of());
    assertFalse(change.isRefused(), change.findings().toString());
    ChangeResult result = change.apply(true);
    assertEquals(ChangeResult.End.WRITTEN, result.end(), result.findings().toString());
    String text = Files.readString(settings, StandardCharsets.ISO_8859_1);
    assertFalse(text.matches("(?s).*[^\r]\n.*"), text); // each line ends as those before
    assertTrue(tls.plan(wish, List.of()).isNothing());
    List<String> problems =
        tls.read().allFindings().stream()
            .filter(one -> one.level() == io.symbolon.finding.Level.PROBLEM)
            .map(Finding::statement)
            .toList();
    assertEquals(List.of(), problems);
    if (comesBack) {
      Undo.bringBack(Undo.versions(folder(settings)).get(0));
      assertArrayEquals(before, Files.readAllBytes(settings));
    }
    return text.replace("\r\n", "\n");
  }

  private void serviceReads(String path) throws IOException {
    List<AclEntry> entries =
        Files.getFileAttributeView(windows.getPath(path), AclFileAttributeView.class).getAcl();
    assertEquals(SERVICE, entries.get(entries.size() - 1).principal().getName());
  }

  @Test
  void tomcatInProgramFiles() throws IOException {
    String base = "C:\\Program Files\\Apache Software Foundation\\Tomcat 10.1\\";
    Path main =
        write(
            base + "conf\\server.xml",
            """
            <?xml version="1.0" encoding="UTF-8"?>
            <Server port="-1">
              <!-- as installed -->
              <Service name="Catalina">
                <Connector port="8080"/>
              </Service>
            </Server>
            """);
    ServerTls tls = only("tomcat");
    String text = changed(tls, mutual().withPort(8443), main, false);
    assertTrue(
        text.contains(
            "certificateKeystoreFile=\"" + base + "conf\\tls\\ingest.lanternfish.example.p12\""),
        text);
    serviceReads(base + "conf\\tls\\ingest.lanternfish.example.p12");
    Reload reload = tls.plan(mutual().withPort(8443), List.of()).reload();
    assertEquals(Reload.Kind.BY_HAND, reload.kind());
    assertEquals(List.of("Restart-Service", "-Name", "Tomcat10"), reload.commands().get(0).words());
    assertEquals(List.of(), commands); // services are named, not restarted
  }

  @Test
  void theKeysOfNginxOnAShare() throws IOException {
    Path main =
        write(
            "C:\\nginx-1.26\\conf\\nginx.conf",
            """
            events {}
            http {
                # C:\\nginx stays as it is
                include C:/nginx-1.26/conf/sites/*.conf;
            }
            """);
    Path site =
        write(
            "C:\\nginx-1.26\\conf\\sites\\ingest.conf",
            """
            server {
                listen 80;
                server_name ingest.lanternfish.example;
                root "C:\\sites\\new";
            }
            """);
    Files.writeString(windows.getPath("C:\\nginx-1.26\\nginx.exe"), "");
    String text =
        changed(
            only("nginx"),
            mutual().withPort(443).withFolder(windows.getPath("\\\\store\\keys\\ingest tls")),
            site,
            true);
    assertTrue(
        text.contains("ssl_certificate \"//store/keys/ingest tls/ingest.lanternfish.example"),
        text);
    assertTrue(text.contains("root \"C:\\sites\\new\";"), text);
    assertEquals(
        List.of("C:\\nginx-1.26\\nginx.exe", "-p", "C:\\nginx-1.26", "-c", main.toString(), "-t"),
        commands.get(0));
  }

  /** Wherever the disk is full: nothing has changed, and nothing of a step lies around. */
  @Test
  void aDiskThatFillsUpChangesNothing() throws IOException {
    int failed = 0;
    for (int blocks = 3; ; blocks++) {
      close();
      windows =
          Jimfs.newFileSystem(
              Configuration.windows().toBuilder()
                  .setAttributeViews("basic", "owner", "acl", "dos")
                  .setBlockSize(512)
                  .setMaxSize(512L * blocks)
                  .build());
      machine = new Machine(windows.getPath("C:\\"), FileView.disk(), machine.programs());
      Path main =
          write(
              "C:\\nginx\\conf\\nginx.conf",
              "events {}\nhttp { server { listen 80; server_name ingest; } }\n");
      String before = Files.readString(main);
      ServerChange change = only("nginx").plan(mutual().withPort(443), List.of());
      try {
        assertEquals(ChangeResult.End.WRITTEN, change.apply(false).end());
        break;
      } catch (SymbolonException e) {
        failed++;
        assertEquals(Reason.NOT_WRITABLE, e.reason(), e.getMessage());
        assertEquals(before, Files.readString(main));
        try (Stream<Path> left = Files.walk(windows.getPath("C:\\nginx"))) {
          assertEquals(3, left.count());
        }
      }
    }
    assertTrue(failed > 5, "it was full at " + failed + " moments");
  }

  @Test
  void httpdWithItsRootInAVariable() throws IOException {
    Path main =
        write(
            "C:\\Apache24\\conf\\httpd.conf",
            """
            Define SRVROOT "c:/Apache24"
            ServerRoot "${SRVROOT}"
            Listen 80
            LoadModule authz_core_module modules/mod_authz_core.so
            #LoadModule ssl_module modules/mod_ssl.so
            ServerName ingest.lanternfish.example
            """);
    for (String module : List.of("ssl", "socache_shmcb")) {
      write("C:\\Apache24\\modules\\mod_" + module + ".so", "");
    }
    String text = changed(only("httpd"), mutual().withPort(443), main, true);
    assertTrue(text.contains("LoadModule ssl_module modules/mod_ssl.so\n"), text);
    assertTrue(
        text.contains("SSLCertificateFile C:/Apache24/conf/tls/ingest.lanternfish.example"), text);
  }

  @Test
  void postgresqlWithItsDataInProgramFiles() throws IOException {
    String data = "C:\\Program Files\\PostgreSQL\\15\\data\\";
    Path main = write(data + "postgresql.conf", "# as installed\nlisten_addresses = '*'\n");
    write(data + "pg_hba.conf", "host all all 127.0.0.1/32 scram-sha-256\n");
    write(data + "PG_VERSION", "15\n");
    ServerTls tls = only("postgresql");
    String text = changed(tls, mutual(), main, false);
    assertTrue(
        text.contains(
            "ssl_key_file = 'C:/Program Files/PostgreSQL/15/data/tls/ingest.lanternfish.example.key'"),
        text);
    serviceReads(data + "tls\\ingest.lanternfish.example.key");
    assertEquals(
        List.of("Restart-Service", "-Name", "postgresql-x64-15"),
        tls.plan(mutual(), List.of()).reload().commands().get(0).words());
  }

  @Test
  void springBootReadsBackslashesAndWritesSlashes() throws IOException {
    Path main =
        write(
            "C:\\Services\\ingest\\application.properties",
            """
            # f\u00e9
            server.port=8443
            server.ssl.key-store=C:\\\\Old Keys\\\\ingest.p12
            server.ssl.trust-store=file:///C:/Old%20Keys/trust.p12
            """);
    Server spring = Servers.named("spring-boot").orElseThrow();
    ServerTls tls = of(spring, spring.at(machine, folder(main)));
    List<Path> read =
        tls.read().places().get(0).place().files().stream().map(UsedFile::path).toList();
    assertTrue(read.contains(windows.getPath("C:\\Old Keys\\ingest.p12")), read.toString());
    Path yaml = write("C:\\Services\\archive\\application.yaml", "server:\n  port: 8443\n");
    String text = changed(of(spring, spring.at(machine, yaml)), mutual(), yaml, true);
    assertTrue(text.contains("C:/Services/archive/tls/ingest.lanternfish.example.pem"), text);
  }

  @Test
  void clientsOnAWindows() throws IOException {
    Path folder = windows.getPath("C:\\Program Files\\Archive");
    Files.createDirectories(folder);
    ClientWish wish =
        ClientWish.of(List.of(root()))
            .withCredential(INGEST.withoutRoot())
            .withHost(HostName.parse(HOST))
            .withFolder(folder.resolve("tls"));
    Path roots = windows.getPath("C:\\Program Files\\Java\\jdk-17\\lib\\security\\cacerts");
    Files.createDirectories(folder(roots));
    Files.copy(Path.of(System.getProperty("java.home"), "lib/security/cacerts"), roots);
    ClientChange java =
        client("java", wish.withHome(windows.getPath("C:\\Program Files\\Java\\jdk-17")));
    String arguments = Files.readString(folder.resolve("tls").resolve("java.args"));
    assertTrue(
        arguments.contains(
            "\"-Djavax.net.ssl.trustStore=C:\\\\Program Files\\\\Archive\\\\tls\\\\truststore.p12\""),
        arguments);
    assertEquals(
        "java \"@C:\\Program Files\\Archive\\tls\\java.args\" -jar PROGRAM.jar",
        java.uses().get(0).line());
    Path service = write("C:\\Archive\\pg_service.conf", "[other]\nhost=there\n");
    ClientChange libpq = client("libpq", wish.withHome(service));
    String text = Files.readString(service);
    assertTrue(
        text.contains("sslrootcert=C:\\Program Files\\Archive\\tls\\ingest-servers.pem\r\n"), text);
    assertTrue(
        libpq.uses().get(1).line().contains("sslrootcert=C%3A%5CProgram%20Files%5CArchive"),
        libpq.uses().get(1).line());
    long before = Files.size(roots);
    client(
        "java-roots",
        ClientWish.of(List.of(root()))
            .withHome(windows.getPath("C:\\Program Files\\Java\\jdk-17")));
    assertTrue(Files.size(roots) > before);
  }

  private ClientChange client(String kind, ClientWish wish) {
    ClientTls tls =
        ClientTls.of(
            ClientKinds.named(kind).orElseThrow(), machine, Surveyor.create(), Clock.systemUTC());
    ClientChange change = tls.plan(wish, List.of(), false);
    assertFalse(change.isRefused(), change.findings().toString());
    change.apply();
    assertTrue(tls.plan(wish, List.of(), false).isNothing());
    return change;
  }
}
