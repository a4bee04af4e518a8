// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static io.symbolon.acme.ServedAuthority.hosts;
import static io.symbolon.acme.ServedAuthority.pair;
import static io.symbolon.acme.ServedAuthority.request;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.proof.DnsRecord;
import io.symbolon.acme.proof.HttpFolder;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.proof.OwnProgram;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.NginxProgram;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Every way to prove control, each with a real peer. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ProofsTest {
  private static final String INGEST = "ingest.lanternfish.example";
  private static final String CATALOGUE = "catalogue.lanternfish.example";
  @TempDir Path temp;

  private static void sleep(Duration time) {
    try {
      Thread.sleep(time.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static Set<String> obtain(ServedAuthority served, Proof proof, String... names) {
    RemoteAccount account = served.account();
    Order order = account.order(hosts(names));
    Certificate certificate =
        new Ordering(account, List.of(proof), Ordering.Progress.SILENT)
            .obtain(order, request(pair(), names))
            .get(0);
    return certificate.alternativeNames().stream()
        .map(GeneralName::value)
        .collect(Collectors.toSet());
  }

  @Test
  void recordsInTheDnsProveWildcardsAndFollowAliases() throws Exception {
    BindProgram.assume();
    try (BindProgram bind = BindProgram.start(temp.resolve("bind"));
        ServedAuthority served =
            ServedAuthority.in(
                temp,
                plan ->
                    plan.withLookup(new Lookup(Map.of(), Optional.of(bind.address()), 80, 443)))) {
      DnsRecord proof =
          new DnsRecord(
              bind.address(), Optional.of(bind.key), Duration.ofSeconds(20), ProofsTest::sleep);
      // The wildcard and its domain want two records at one name.
      Set<String> names = Set.of("*.lanternfish.example", "lanternfish.example", INGEST);
      assertEquals(names, obtain(served, proof, names.toArray(String[]::new)));

      // A key that the name server does not know, and a zone that is not there.
      Path other = temp.resolve("other.key");
      Files.writeString(other, Files.readString(bind.key).replace("a2Vs", "b2Vs"));
      DnsRecord wrong =
          new DnsRecord(
              bind.address(), Optional.of(other), Duration.ofSeconds(5), ProofsTest::sleep);
      SymbolonException refused =
          assertThrows(SymbolonException.class, () -> obtain(served, wrong, INGEST));
      assertTrue(
          refused.remedy().advice().contains("the key for the name server"),
          refused.seen() + refused.remedy());
      DnsRecord unsigned =
          new DnsRecord(bind.address(), Optional.empty(), Duration.ofSeconds(5), ProofsTest::sleep);
      SymbolonException closed =
          assertThrows(SymbolonException.class, () -> obtain(served, unsigned, INGEST));
      assertTrue(closed.seen().contains("REFUSED"), closed.seen());
      SymbolonException nobody =
          assertThrows(SymbolonException.class, () -> obtain(served, proof, "www.kelp.example"));
      assertTrue(nobody.seen().contains("no zone"), nobody.seen());
      Proof.Task task =
          new Proof.Task(new Identifier("dns", CATALOGUE), "token", "token.thumbprint");
      try (Proof.Shown shown = proof.show(task)) {
        assertTrue(answered(bind, "catalogue.proofs.example"), "the alias leads there: " + shown);
      }
      assertFalse(answered(bind, "catalogue.proofs.example"), "and is taken away");
    }
  }

  /** Whether there is a text at a name, as the library for the DNS sees it. */
  private static boolean answered(BindProgram bind, String name) throws Exception {
    var resolver = new org.xbill.DNS.SimpleResolver(bind.address());
    var question =
        org.xbill.DNS.Record.newRecord(
            org.xbill.DNS.Name.fromString(name + "."),
            org.xbill.DNS.Type.TXT,
            org.xbill.DNS.DClass.IN);
    return !resolver
        .send(org.xbill.DNS.Message.newQuery(question))
        .getSection(org.xbill.DNS.Section.ANSWER)
        .isEmpty();
  }

  @Test
  void aFileInTheFolderOfAWebServer() throws Exception {
    NginxProgram.assume();
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    Path documents = Files.createDirectories(temp.resolve("documents"));
    Path home = Files.createDirectories(temp.resolve("nginx"));
    try (ServedAuthority served = ServedAuthority.in(temp)) {
      Process nginx =
          NginxProgram.start(
              home,
              home.resolve("log"),
              served.httpPort,
              "server { listen 127.0.0.1:" + served.httpPort + "; root " + documents + "; }");
      try {
        assertEquals(
            Set.of(INGEST, CATALOGUE),
            obtain(served, new HttpFolder(documents), INGEST, CATALOGUE));
        assertFalse(Files.exists(documents.resolve(".well-known")), "what was shown is gone");
      } finally {
        nginx.destroy();
        nginx.waitFor();
      }
    }
  }

  @Test
  void aProgramOfTheAdministratorsOwn() throws Exception {
    NginxProgram.assume();
    Path program = temp.resolve("prove");
    Path documents = temp.resolve("d");
    Files.writeString(
        program,
        """
        #!/bin/sh
        echo "$SYMBOLON_DO $SYMBOLON_HOST $SYMBOLON_PROOF" >> %1$s/calls
        [ "$SYMBOLON_HOST" != slow.lanternfish.example ] || sleep 60
        [ "$SYMBOLON_HOST" != bad.lanternfish.example ] || { echo no such zone; exit 7; }
        if [ "$SYMBOLON_DO" = show ]; then
          mkdir -p "$(dirname "%1$s/d$SYMBOLON_NAME")"
          printf %%s "$SYMBOLON_VALUE" > "%1$s/d$SYMBOLON_NAME"
        else
          rm "%1$s/d$SYMBOLON_NAME"
        fi
        """
            .formatted(temp));
    Files.setPosixFilePermissions(program, PosixFilePermissions.fromString("rwx------"));
    Path home = Files.createDirectories(temp.resolve("nginx"));
    Proof proof = new OwnProgram(program, "http-01", Duration.ofSeconds(30));
    try (ServedAuthority served = ServedAuthority.in(temp)) {
      Process nginx =
          NginxProgram.start(
              home,
              home.resolve("log"),
              served.httpPort,
              "server { listen 127.0.0.1:" + served.httpPort + "; root " + documents + "; }");
      try {
        Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
        assertEquals(Set.of(INGEST), obtain(served, proof, INGEST));
      } finally {
        nginx.destroy();
        nginx.waitFor();
      }
      assertEquals(
          List.of("show " + INGEST + " http-01", "take-away " + INGEST + " http-01"),
          Files.readAllLines(temp.resolve("calls")));
      SymbolonException bad =
          assertThrows(
              SymbolonException.class, () -> obtain(served, proof, "bad.lanternfish.example"));
      assertTrue(bad.seen().contains("ended with 7"), bad.seen());
      assertTrue(bad.seen().contains("no such zone"), bad.seen());
      Proof hasty = new OwnProgram(program, "http-01", Duration.ofSeconds(1));
      SymbolonException slow =
          assertThrows(
              SymbolonException.class, () -> obtain(served, hasty, "slow.lanternfish.example"));
      assertTrue(slow.seen().contains("did not end"), slow.seen());
    }
  }

  @Test
  void aPortThatIsTakenIsToldAndSoIsAWayThatDoesNotSuit() throws Exception {
    int port = FreePort.take();
    try (ServerSocket taken = new ServerSocket(port, 1, java.net.InetAddress.getLoopbackAddress());
        ServedAuthority served = ServedAuthority.in(temp)) {
      Proof proof = new HttpListener(ServedAuthority.loopback(port));
      SymbolonException e =
          assertThrows(SymbolonException.class, () -> obtain(served, proof, INGEST), taken + "");
      assertTrue(e.seen().contains("taken by another program"), e.seen());
      SymbolonException wildcard =
          assertThrows(
              SymbolonException.class,
              () -> obtain(served, served.http(), "*.lanternfish.example"));
      assertTrue(wildcard.remedy().advice().contains("dns=SERVER"), wildcard.remedy() + "");
    }
  }
}
