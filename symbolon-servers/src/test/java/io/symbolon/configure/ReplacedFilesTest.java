// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.server;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.key.KeyKind;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What stands in files that a server's new ones replace, and in none of the new ones, is told. */
class ReplacedFilesTest {
  private static final Credential RENEWED = server(HOST, KeyKind.EC_P256);

  @TempDir Path home;

  private ServerChange plan(String name, Credential credential, String form, Certificate... trust) {
    Server server = Servers.named(name).orElseThrow();
    Machine machine = Machine.here();
    Wish wish =
        Wish.of(credential.withoutRoot())
            .withClients(Mode.MUTUAL, new ClientTrust(List.of(trust), List.of()))
            .withHosts(List.of(HostName.parse(HOST)))
            .withPort(9443);
    return ServerTls.of(
            server,
            machine,
            server.at(machine, home),
            Surveyor.create().withKnownRoots(List.of(root())),
            Clock.systemUTC())
        .plan(form.isEmpty() ? wish : wish.withForm(form), List.of());
  }

  private static List<String> told(ServerChange change) {
    return change.findings().stream()
        .filter(
            one -> one.is(FindingKind.NOT_TAKEN_OVER) || one.is(FindingKind.REPLACED_NOT_COMPARED))
        .map(Finding::statement)
        .toList();
  }

  private static void write(ServerChange change) throws IOException {
    for (FileChange file : change.files()) {
      Files.createDirectories(file.path().getParent());
      Files.write(file.path(), file.after());
    }
  }

  private String keystorePassword() throws IOException {
    String text = Files.readString(home.resolve("server.properties"), StandardCharsets.UTF_8);
    Matcher line = Pattern.compile("ssl.keystore.password=(\\S+)").matcher(text);
    assertTrue(line.find(), text);
    return line.group(1);
  }

  @Test
  void anotherEntryOfAKeystoreIsTold() throws Exception {
    file(home, "server.properties", "listeners=PLAINTEXT://:9092\n");
    write(plan("kafka", INGEST, "", root(), issuing()));
    assertEquals(List.of(), told(plan("kafka", RENEWED, "", root(), issuing())), "a renewal");
    String password = keystorePassword();
    Path store = home.resolve("tls/" + HOST + ".p12");
    Files.write(store, PlatformStore.of("PKCS12", password, password, root(), INGEST, CATALOGUE));
    List<String> lost = told(plan("kafka", RENEWED, "", root(), issuing()));
    assertEquals(1, lost.size(), lost.toString());
    assertTrue(
        lost.get(0).contains("also holds the private key 'catalogue' of catalogue."), lost.get(0));
    // Under a password that the settings do not have, nobody can tell.
    Files.write(store, PlatformStore.of("PKCS12", "geheim", "geheim", root(), INGEST, CATALOGUE));
    lost = told(plan("kafka", RENEWED, "", root(), issuing()));
    assertTrue(lost.get(0).contains("opens with none of the passwords"), lost.toString());
  }

  @Test
  void anAuthorityThatIsTrustedNoMoreIsTold() throws Exception {
    file(home, "server.properties", "listeners=PLAINTEXT://:9092\nssl.keystore.type=PEM\n");
    Certificate other = CATALOGUE.certificate();
    write(plan("kafka", INGEST, "", root(), issuing(), other));
    assertTrue(Files.isRegularFile(home.resolve("tls/" + HOST + "-clients.pem")), "PEM stays PEM");
    ServerChange change = plan("kafka", RENEWED, "", root(), issuing());
    assertEquals(
        List.of(
            "The file that is to be replaced also holds the certificate of"
                + " catalogue.lanternfish.example. The new one will not hold it."),
        told(change));
    Finding finding =
        change.findings().stream()
            .filter(one -> one.is(FindingKind.NOT_TAKEN_OVER))
            .findFirst()
            .get();
    assertTrue(
        finding.remedy().advice().endsWith("the authorities of the clients"), finding.toString());
    assertEquals(List.of(), told(plan("kafka", RENEWED, "", root(), issuing(), other)));
    assertEquals(
        List.of(), told(plan("kafka", RENEWED, "pkcs12", root())), "other files, nothing is lost");
  }

  @Test
  void aChainOfAnotherAuthorityIsARenewalToo() throws Exception {
    file(home, "nginx.conf", "events {}\nhttp {\n  server {\n    listen 9443;\n  }\n}\n");
    write(plan("nginx", INGEST, "", root(), issuing()));
    Credential alone = RENEWED.withoutRoot();
    Credential short1 = Credential.of(alone.key(), List.of(alone.certificate()));
    assertEquals(List.of(), told(plan("nginx", short1, "", root(), issuing())));
  }
}
