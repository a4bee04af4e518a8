// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.configure.FileDiff;
import io.symbolon.failure.SymbolonException;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Programs that open connections: what would be written for them. */
class ClientSettingsTest {
  @TempDir Path home;
  private final Machine machine = Machine.here();

  private ClientWish wish(Optional<Credential> credential, Path home, Path folder) {
    return new ClientWish(
        List.of(root()),
        credential,
        Optional.of(HostName.parse(HOST)),
        Optional.of(5432),
        Optional.of(home),
        Optional.of(folder),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  private ClientProposal propose(String kind, ClientWish wish) {
    return ClientKinds.named(kind).orElseThrow().propose(machine, wish, Surveyor.create());
  }

  private static FileChange settings(ClientProposal proposal) {
    return proposal.changes().stream().filter(FileChange::settings).findFirst().orElseThrow();
  }

  private static String text(FileChange change) {
    return new String(change.after(), StandardCharsets.UTF_8);
  }

  private Path cacerts(String type) throws Exception {
    KeyStore store = KeyStore.getInstance(type);
    store.load(null, null);
    store.setCertificateEntry("old", INGEST.chain().get(1).toX509Certificate());
    Path path = home.resolve("cacerts-" + type);
    try (OutputStream out = Files.newOutputStream(path)) {
      store.store(out, "changeit".toCharArray());
    }
    return path;
  }

  @Test
  void otherArgumentsOfAJavaProgramStay() throws Exception {
    Path folder = Files.createDirectory(home.resolve("it's \\here"));
    file(
        folder,
        "java.args",
        """
        # of last year
        -Xmx1g
        "-Djavax.net.ssl.trustStore=/old.p12"
        '-Djavax.net.ssl.keyStorePassword=old buoy song'
        -Djavax.net.ssl.trustStoreType=JKS -Dbuoys=17
        -Dfile.encoding=UTF-8"""
            .replace("\n", "\r\n"));
    ClientWish wish = wish(Optional.of(INGEST.withoutRoot()), cacerts("JKS"), folder);
    ClientProposal proposal = propose("java", wish);
    String text = text(settings(proposal));
    assertTrue(text.startsWith("# of last year\r\n-Xmx1g\r\n\"-Djavax.net.ssl.trustStore="), text);
    assertTrue(text.contains("it's \\\\here/truststore.p12\"\r\n"), text);
    // What shares its line stays; what comes behind it counts.
    int shared = text.indexOf("-Djavax.net.ssl.trustStoreType=JKS -Dbuoys=17\r\n-Dfile.encoding");
    assertTrue(shared > 0 && text.indexOf("trustStoreType=PKCS12") > shared, text);
    assertFalse(text.contains("old"), text);
    String diff = String.join("\n", FileDiff.lines(settings(proposal)));
    assertFalse(diff.contains("song"), diff);
    assertTrue(diff.contains("+\"-Djavax.net.ssl.trustStorePassword=****\""), diff);
    for (FileChange change : proposal.changes()) {
      Files.write(change.path(), change.after());
    }
    assertTrue(propose("java", wish).changes().stream().allMatch(FileChange::isNothing));
  }

  @Test
  void otherServicesStay() throws IOException {
    file(
        home,
        "pg_service.conf",
        "# services\r\n[ingest]\r\nhost = old\r\nsslmode=disable\r\n\r\n[other]\r\nhost=b\r\n");
    ClientProposal proposal =
        propose("libpq", wish(Optional.empty(), home, home.resolve("t # ls")));
    String folder = home.resolve("t # ls").toString();
    assertEquals(
        "# services\r\n[ingest]\r\nhost = old\r\nsslmode=verify-full\r\n"
                .replace("host = old", "host =" + HOST)
            + "port=5432\r\nsslrootcert="
            + folder
            + "/ingest-servers.pem\r\n\r\n[other]\r\nhost=b\r\n",
        text(settings(proposal)));
    assertTrue(proposal.uses().get(1).line().contains("t%20%23%20ls"), proposal.uses().toString());
    file(home, "pg_service.conf", "[a\n");
    assertThrows(
        SymbolonException.class,
        () -> propose("libpq", wish(Optional.empty(), home, home.resolve("x"))));
  }

  @Test
  void aJavaGetsOneAuthorityMoreAndLosesNone() throws Exception {
    Path store = cacerts("JKS");
    FileChange change = propose("java-roots", wish(Optional.empty(), store, home)).changes().get(0);
    KeyStore read = KeyStore.getInstance("JKS");
    read.load(new ByteArrayInputStream(change.after()), "changeit".toCharArray());
    assertEquals(2, read.size());
    assertTrue(read.containsAlias("old"));
    Files.write(store, change.after());
    assertTrue(
        propose("java-roots", wish(Optional.empty(), store, home)).changes().get(0).isNothing());
    // A Java sees nothing of a sealed PKCS#12 store that it opens without a password.
    Path sealed = cacerts("PKCS12");
    assertThrows(
        SymbolonException.class, () -> propose("java-roots", wish(Optional.empty(), sealed, home)));
  }

  @Test
  void optionFilesKeepWhatIsInThem() throws IOException {
    file(home, "client.cnf", "[mysqldump]\nquick\n[client]\nuser = buoy # mine\nssl-ca=old.pem\n");
    Path folder = home.resolve("tls # one");
    ClientWish wish = wish(Optional.of(INGEST.withoutRoot()), home, folder);
    assertEquals(
        """
        [mysqldump]
        quick
        [client]
        user = buoy # mine
        ssl-ca="F/ingest.lanternfish.example-servers.pem"
        ssl-verify-server-cert=1
        ssl-cert="F/ingest.lanternfish.example.pem"
        ssl-key="F/ingest.lanternfish.example.key"
        """
            .replace("F/", folder + "/")
            .replace("ssl-verify-server-cert=1", "ssl-verify-server-cert = 1")
            .replace("ssl-cert=", "ssl-cert = ")
            .replace("ssl-key=", "ssl-key = "),
        text(settings(propose("mariadb-client", wish))));
    file(home, "client.properties", "client.id=buoy\nssl.truststore.password=of-17-buoys\n");
    ClientProposal kafka = propose("kafka-client", wish);
    String diff = String.join("\n", FileDiff.lines(settings(kafka)));
    assertTrue(diff.contains("+security.protocol=SSL"), diff);
    assertFalse(diff.contains("buoys"), diff);
    for (FileChange change : kafka.changes()) {
      Files.createDirectories(folder);
      Files.write(change.path(), change.after());
      assertFalse(
          change.settings()
              && diff.contains(
                  Files.readString(folder.resolve("ingest.lanternfish.example.pass")).strip()));
    }
    assertTrue(propose("kafka-client", wish).changes().stream().allMatch(FileChange::isNothing));
    assertTrue(
        text(settings(propose("environment", wish))).startsWith("CURL_CA_BUNDLE=\"" + folder),
        "quoted for a shell");
  }

  @Test
  void theSystemTrustsARootByAFileOfItsOwn() {
    ClientWish wish = ClientWish.of(List.of(root(), INGEST.chain().get(1))).withHome(home);
    ClientProposal proposal = propose("system-trust", wish);
    assertEquals(
        List.of(home.resolve("lanternfish-root.crt")),
        proposal.changes().stream().map(FileChange::path).toList());
    assertTrue(settings(proposal).settings(), "goes with undo");
    assertThrows(
        SymbolonException.class,
        () ->
            propose("system-trust", ClientWish.of(List.of(INGEST.chain().get(1))).withHome(home)));
  }
}
