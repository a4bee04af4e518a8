// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The settings of httpd: what is seen in them, and what would change. */
class HttpdSettingsTest {
  private static final String SITE =
      """
      # The ingest service.
      <VirtualHost *:80>
      \tServerName ingest.lanternfish.example
      \tDocumentRoot /srv/ingest
      </VirtualHost>
      """;
  private static final String LOADED = "LoadModule ssl_module /m/mod_ssl.so\n";

  @TempDir Path temp;
  private final Server httpd = Servers.named("httpd").orElseThrow();
  private Machine machine;
  private Path home;

  @BeforeEach
  void debian() throws IOException {
    machine = Machine.at(temp);
    home = temp.resolve("etc/apache2");
    for (String folder :
        List.of("mods-available", "mods-enabled", "sites-available", "sites-enabled")) {
      Files.createDirectories(home.resolve(folder));
    }
    for (String program : List.of("a2enmod", "a2dismod", "a2ensite", "a2dissite", "apache2")) {
      Files.createDirectories(temp.resolve("usr/sbin"));
      file(temp, "usr/sbin/" + program, "");
    }
    file(home, "envvars", "SUFFIX=\nexport APACHE_RUN_USER=www-data\nexport RUN=/run/a$SUFFIX\n");
    file(
        home,
        "apache2.conf",
        """
        User ${APACHE_RUN_USER}
        IncludeOptional mods-enabled/*.load
        IncludeOptional mods-enabled/*.conf
        Include ports.conf
        IncludeOptional sites-enabled/*.conf
        """);
    file(home, "ports.conf", "Listen 80\n\n<IfModule ssl_module>\n\tListen 443\n</IfModule>\n");
    file(home, "mods-available/ssl.load", "# Depends: setenvif mime\n" + LOADED);
    file(home, "mods-available/ssl.conf", "SSLCipherSuite HIGH:!aNULL\nSSLProtocol all -SSLv3\n");
    file(home, "mods-available/mime.load", "LoadModule mime_module /m/mod_mime.so\n");
    file(home, "mods-available/headers.load", "LoadModule headers_module /m/mod_headers.so\n");
    file(home, "mods-enabled/setenvif.load", "LoadModule setenvif_module /m/x.so\n");
    file(home, "mods-enabled/alias.load", "LoadModule alias_module /m/mod_alias.so\n");
    file(home, "sites-enabled/ingest.conf", SITE);
  }

  private Wish wish(Mode mode, int from, String site) {
    Wish wish =
        Wish.of(INGEST.withoutRoot()).withMode(mode).withHosts(List.of(HostName.parse(HOST)));
    if (mode != Mode.ONE_WAY) {
      wish = wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()));
    }
    if (from != 0) {
      wish = wish.withRedirectFrom(from).withStrictTransport(Duration.ofDays(365));
    }
    return site.isEmpty() ? wish : wish.withSite(site);
  }

  private Proposal propose(Wish wish) {
    return httpd.propose(machine, httpd.at(machine, home), wish);
  }

  private Settings read() {
    return httpd.read(machine, httpd.at(machine, home));
  }

  private void write(Proposal proposal) throws IOException {
    for (FileChange change : proposal.view()) {
      Files.createDirectories(change.path().getParent());
      Files.write(change.path(), change.after());
    }
  }

  private String changed(Proposal proposal) {
    FileChange change =
        proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow();
    return new String(change.after(), StandardCharsets.UTF_8)
        .replace(home.resolve("tls").toString(), "TLS");
  }

  private List<String> ids() {
    return read().findings().stream().map(Finding::id).toList();
  }

  @Test
  void aSiteMovesToTlsWithTheModulesThatItNeeds() throws IOException {
    Proposal first = propose(wish(Mode.MUTUAL, 80, ""));
    assertEquals(
        """
        # The ingest service.
        <VirtualHost *:443>
        \tServerName ingest.lanternfish.example
        \tDocumentRoot /srv/ingest
        \tSSLEngine on
        \tSSLCertificateFile TLS/ingest.lanternfish.example.pem
        \tSSLCertificateKeyFile TLS/ingest.lanternfish.example.key
        \tSSLProtocol -all +TLSv1.2 +TLSv1.3
        \tSSLCipherSuite ECDHE+AESGCM:ECDHE+CHACHA20
        \tSSLCACertificateFile TLS/ingest.lanternfish.example-clients.pem
        \tSSLVerifyClient require
        \tSSLVerifyDepth 2
        \tHeader always set Strict-Transport-Security "max-age=31536000"
        </VirtualHost>

        <VirtualHost *:80>
        \tServerName ingest.lanternfish.example
        \tRedirect permanent / https://ingest.lanternfish.example/
        </VirtualHost>
        """,
        changed(first));
    assertEquals(
        List.of("mime", "ssl", "headers"),
        first.steps().stream()
            .map(step -> step.command().words().get(step.command().words().size() - 1))
            .toList());
    write(first);
    assertTrue(propose(wish(Mode.MUTUAL, 80, "")).isNothing());
    TlsPlace place = read().places().get(0);
    assertEquals(Mode.MUTUAL, place.mode());
    assertEquals(Optional.of("www-data"), place.account());
    assertEquals(Optional.of("TLSv1.2 TLSv1.3"), place.protocols());
    assertEquals(List.of(), ids());
    Path site = home.resolve("sites-enabled/ingest.conf");
    String own = "\tSSLCipherSuite TLSv1.3 TLS_AES_256_GCM_SHA384\n";
    Files.writeString(site, Files.readString(site).replace("\tSSLCip", own + "\tSSLCip"));
    assertTrue(propose(wish(Mode.MUTUAL, 80, "")).isNothing());
    write(propose(wish(Mode.OPTIONAL, 0, "")));
    assertTrue(Files.readString(site).contains(own));
    assertEquals(Mode.OPTIONAL, read().places().get(0).mode());
    Proposal back = propose(wish(Mode.ONE_WAY, 0, ""));
    assertFalse(changed(back).contains("Verify"), changed(back));
    assertTrue(changed(back).contains("Strict-Transport"), changed(back));
  }

  @Test
  void aTwinStandsBehindASiteAndOneThatIsThereIsSwitchedOn() throws IOException {
    write(propose(wish(Mode.ONE_WAY, 0, "")));
    Settings after = read();
    assertEquals(
        List.of("*:80", "*:443"),
        after.places().stream().map(one -> one.endpoints().get(0).written()).toList());
    assertTrue(
        Files.readString(home.resolve("sites-enabled/ingest.conf")).startsWith(SITE.strip()));
    assertTrue(propose(wish(Mode.ONE_WAY, 0, "")).isNothing());

    file(
        home,
        "sites-available/other.conf",
        SITE.replace("*:80", "127.0.0.1:8443")
            .replace("DocumentRoot /srv/ingest", "SSLEngine on\n  SSLCertificateFile /old.pem")
            .replace("ServerName", "#"));
    assertEquals(List.of("clear-text-open", "site-not-enabled"), ids().stream().sorted().toList());
    Proposal other = propose(wish(Mode.ONE_WAY, 0, "other"));
    assertTrue(other.steps().get(0).command().words().contains("other"));
    assertTrue(changed(other).contains("Listen 80\nListen 127.0.0.1:8443\n"), changed(other));
    write(other);
    assertEquals("other", read().places().get(2).name());
    assertFalse(ids().contains("listen-missing"));
  }

  @Test
  void aSiteInClearTextThatAnswersFirstGetsTheRedirect() throws IOException {
    write(propose(wish(Mode.ONE_WAY, 0, "")));
    Proposal second = propose(wish(Mode.ONE_WAY, 80, ""));
    assertTrue(
        changed(second)
            .contains(
                "/srv/ingest\n\tRedirect permanent / https://ingest.lanternfish.example/\n</V"),
        changed(second));
    write(second);
    assertEquals(List.of(), ids());
    assertTrue(propose(wish(Mode.ONE_WAY, 80, "")).isNothing());
  }

  @Test
  void aServerWithoutSitesAndWithoutDebiansFoldersGetsBoth() throws IOException {
    Path plain = Files.createDirectories(temp.resolve("srv/httpd/conf"));
    Files.createDirectories(temp.resolve("srv/httpd/modules"));
    file(temp, "srv/httpd/modules/mod_ssl.so", "");
    file(
        plain,
        "httpd.conf",
        "Listen 10.1.2.3:8080\r\nLoadModule unixd_module modules/mod_unixd.so\r\n#LoadModule x\r\nUser daemon");
    home = plain;
    Proposal proposal = propose(wish(Mode.ONE_WAY, 0, ""));
    String text = changed(proposal);
    assertTrue(
        text.replace("\r\n", "\n")
            .startsWith(
                """
                Listen 10.1.2.3:8080
                Listen 10.1.2.3:443
                LoadModule unixd_module modules/mod_unixd.so
                LoadModule ssl_module modules/mod_ssl.so
                #LoadModule x
                User daemon
                """),
        text);
    assertFalse(text.replace("\r\n", "").contains("\n"), text);
    write(proposal);
    assertTrue(propose(wish(Mode.ONE_WAY, 0, "")).isNothing());
    assertEquals(Mode.ONE_WAY, read().places().get(0).mode());
    SymbolonException headers =
        assertThrows(
            SymbolonException.class, () -> propose(wish(Mode.ONE_WAY, 8080, "")).changes());
    assertTrue(headers.seen().contains("mod_headers.so"), headers.seen());
  }

  private void trap(String id, String where, String inside) throws IOException {
    file(home, "sites-enabled/ingest.conf", where.replace("</Virt", inside.indent(2) + "</Virt"));
    assertTrue(ids().contains(id), id + " in " + read().findings());
  }

  @Test
  void whatItsOwnCheckLetsPassIsSeen() throws IOException {
    String site = "<VirtualHost *:443>\n  SSLEngine on\n</VirtualHost>\n";
    trap("module-not-enabled", site, "");
    trap("module-not-enabled", "<IfModule mod_ssl.c>\n" + site + "</IfModule>", "");
    Files.copy(home.resolve("mods-available/ssl.load"), home.resolve("mods-enabled/ssl.load"));
    trap("clear-on-tls-port", SITE, "");
    trap("listen-missing", site.replace("443", "8443"), "");
    String whole = site.replace("on\n", "on\nSSLCertificateFile a.pem\n");
    trap("clear-on-tls-port", whole.replace("SSLEngine on", ""), "");
    trap("server-refuses", site, "");
    trap("server-refuses", whole, "SSLCertificateKeyFile a.key\nSSLCertificateFile b.pem");
    trap("old-protocols", whole, "SSLProtocol all -SSLv3");
    trap("new-protocol-off", whole, "SSLProtocol TLSv1.2");
    trap("verify-without-trust", whole, "SSLVerifyClient require");
    trap("trust-without-verify", whole, "SSLCACertificateFile ca.pem");
    String asks = "SSLCACertificateFile ca.pem\nSSLVerifyClient require\n";
    trap("lists-not-checked", whole, asks + "SSLCARevocationFile l.pem");
    trap("optional-clients", whole, asks.replace("require", "optional"));
    trap(
        "optional-clients",
        whole,
        "SSLCACertificateFile ca.pem\n<Location /a>\nSSLVerifyClient require\n</Location>");
    trap("module-not-enabled", whole, "Header set Strict-Transport-Security x");

    file(home, "sites-available/broken.conf", "<VirtualHost *:443>\n");
    assertFalse(read().places().isEmpty());
    file(home, "sites-enabled/loop.conf", "Include sites-enabled/loop.conf\n");
    assertThrows(SymbolonException.class, this::read);
  }

  @Test
  void ofGlobalSettingsTheLastOneCounts() throws IOException {
    String global = "SSLProtocol TLSv1.2\nSSLProtocol TLSv1.2 TLSv1.3\n";
    String site = "<VirtualHost *:443>\n  SSLEngine on\n</VirtualHost>\n";
    file(home, "sites-enabled/ingest.conf", global + site);
    assertFalse(ids().contains("new-protocol-off"), read().findings()::toString);
    file(
        home,
        "sites-enabled/ingest.conf",
        "SSLProtocol TLSv1.2 TLSv1.3\nSSLProtocol TLSv1.2\n" + site);
    assertTrue(ids().contains("new-protocol-off"), read().findings()::toString);
  }

  @Test
  void variablesAndConditionsCountAsTheyDoForTheServer() throws IOException {
    file(
        home,
        "sites-enabled/ingest.conf",
        """
        Define PORT 8443
        <IfDefine !PORT>
          Listen 1
        </IfDefine>
        <IfVersion < 2.4>
          Listen 2
        </IfVersion>
        # a comment that goes on \\
        Listen 3
        Listen ${PORT}
        <VirtualHost *:${PORT}>
          ServerName "ingest.lanternfish.example"
          SSLEngine \\
            on
          SSLCertificateFile ${RUN}/${NONE}.pem
        </VirtualHost>
        """);
    TlsPlace place = read().places().get(0);
    assertEquals(List.of(new Endpoint("", 8443, true)), place.endpoints());
    assertEquals(List.of(), place.files()); // what a variable stands for is not known
    file(
        home,
        "sites-enabled/macro.conf",
        """
        <Macro TlsSite $name>
          <VirtualHost *:443>
            ServerName $name
          </VirtualHost>
        </Macro>
        Use TlsSite buoys.lanternfish.example
        """);
    assertEquals(1, read().places().stream().filter(TlsPlace::isTls).count());
    assertTrue(read().findings().stream().anyMatch(one -> one.statement().contains("TlsSite")));
    Wish tricky = wish(Mode.ONE_WAY, 0, "");
    Wish there =
        Wish.of(tricky.credentials().get(0))
            .withMode(tricky.mode().orElseThrow())
            .withHosts(tricky.hosts())
            .withFolder(home.resolve("${RUN}"));
    assertThrows(SymbolonException.class, () -> propose(there));
  }
}
