// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** HAProxy's bind lines: read, changed word by word, and added. */
class HaproxySettingsTest {
  @TempDir Path home;
  private final Server haproxy = Servers.named("haproxy").orElseThrow();
  private final Machine machine = Machine.here();

  private Installation install(String text) {
    file(home, "haproxy.cfg", text);
    return haproxy.at(machine, home);
  }

  private static Wish wish(Mode mode) {
    Wish wish = Wish.of(INGEST.withoutRoot()).withFolder(Path.of("/nowhere/tls"));
    return mode.asksClients()
        ? wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of()))
        : wish.withMode(mode);
  }

  private String changed(String text, Wish wish) {
    return haproxy.propose(machine, install(text), wish).changes().stream()
        .filter(FileChange::settings)
        .map(change -> new String(change.after(), StandardCharsets.UTF_8))
        .findFirst()
        .orElse(text);
  }

  @Test
  void wordsAreChangedWhereTheyStand() {
    String before =
        "frontend a\r\n\tbind *:443 ssl crt old.pem  alpn h2 ca-file x.pem verify optional # old\r\n";
    assertEquals(
        before
            .replace("old.pem", "/nowhere/tls/server.pem")
            .replace("x.pem", "/nowhere/tls/server-clients.pem")
            .replace("optional", "required"),
        changed(before, wish(Mode.MUTUAL)));
    assertEquals(
        "frontend a\r\n\tbind *:443 ssl crt /nowhere/tls/server.pem  alpn h2 # old\r\n",
        changed(before, wish(Mode.ONE_WAY)));
  }

  @Test
  void aListOfCertificatesIsRead() {
    file(
        home,
        "sites.list",
        "# first\n/tls/ingest.pem [alpn h2,http/1.1]\n\n/tls/archive.pem [ssl-min-ver TLSv1.3] archive.example *.kelp\n");
    String settings = "frontend a\n  bind :443 ssl crt-list " + home + "/sites.list\n";
    TlsPlace place = haproxy.read(machine, install(settings)).places().get(0);
    assertEquals(
        List.of("/tls/ingest.pem", "/tls/archive.pem"),
        place.files().stream().map(UsedFile::path).map(Path::toString).toList());
    assertEquals(4, place.files().get(1).origin().line());
    // Its own versions are not those of the bind line.
    assertEquals(1, place.notUnderstood().size());
    assertThrows(SymbolonException.class, () -> changed(settings, wish(Mode.ONE_WAY)));
  }

  @Test
  void aPortThatIsNotThereGetsALineBesideTheOther() {
    assertEquals(
        """
        listen a
          bind 127.0.0.1:80
          bind 127.0.0.1:443 ssl crt /nowhere/tls/server.pem ssl-min-ver TLSv1.2
          server s 127.0.0.1:1
        """,
        changed(
            "listen a\n  bind 127.0.0.1:80\n  server s 127.0.0.1:1\n",
            wish(Mode.ONE_WAY).withPort(443)));
  }

  @Test
  void whatWouldBeTakenOtherwiseIsTold() {
    Settings settings =
        haproxy.read(
            machine,
            install(
                "global\n ca-base \"/etc/ssl\"\nfrontend a\n bind :80 crt x.pem\n bind :443,[::1]:444 ssl crt"
                    + " x\\ y.pem ca-file 'c d.pem'\nbackend b\n server s :1 ssl ca-file z\n"));
    assertEquals(
        List.of("setting-ignored", "trust-without-verify", "clear-text-open"),
        settings.findings().stream().map(Finding::id).toList());
    assertEquals(
        List.of(Mode.CLEAR, Mode.ONE_WAY), settings.places().stream().map(TlsPlace::mode).toList());
    TlsPlace tls = settings.places().get(1);
    assertEquals(List.of(443, 444), tls.endpoints().stream().map(Endpoint::port).toList());
    assertEquals(
        List.of(home.resolve("x y.pem"), Path.of("/etc/ssl/c d.pem")),
        tls.files().stream().map(UsedFile::path).toList());
  }

  @Test
  void whoComesUnencryptedBesideMutualTlsIsToldUnlessHeIsSentToTls() {
    String clear =
        """
        frontend a
         bind :80
        %s default_backend c
        frontend b
         bind :443 ssl crt x.pem ca-file y.pem verify required
        backend c
         server s :1
        """;
    assertEquals(List.of("clear-text-open"), ids(clear.formatted("")));
    assertEquals(List.of(), ids(clear.formatted(" http-request redirect scheme https\n")));
    assertEquals(
        List.of("clear-text-open"), ids(clear.formatted(" http-request redirect location /\n")));
  }

  private List<String> ids(String settings) {
    return haproxy.read(machine, install(settings)).findings().stream().map(Finding::id).toList();
  }

  @Test
  void whatIsNotClearIsRefused() {
    String two = "frontend a\n bind :443\nfrontend b\n bind :444\n";
    assertThrows(SymbolonException.class, () -> changed(two, wish(Mode.ONE_WAY)));
    assertTrue(changed(two, wish(Mode.ONE_WAY).withPort(444)).contains("bind :444 ssl crt"));
    assertTrue(changed(two, wish(Mode.ONE_WAY).withSite("a")).contains("bind :443 ssl crt"));
    String several = "frontend a\n bind :443 ssl crt a.pem crt b.pem\n";
    assertThrows(SymbolonException.class, () -> changed(several, wish(Mode.ONE_WAY)));
    assertThrows(SymbolonException.class, () -> changed("global\n", wish(Mode.ONE_WAY)));
    assertThrows(
        SymbolonException.class, () -> changed("frontend a\n bind ':443\n", wish(Mode.ONE_WAY)));
  }
}
