// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.acme.Order;
import io.symbolon.acme.Ordering;
import io.symbolon.acme.Patience;
import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.RemoteAuthority;
import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.IssueTables;
import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.wire.AccountKey;
import io.symbolon.chain.Credential;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

/**
 * A service that gets its certificates by itself: an authority answers in this program, the service
 * orders from it over the wire, serves with what comes, and renews while clients call.
 */
public final class OrderWhileServing {
  private static final SecureRandom RANDOM = new SecureRandom();
  private static final Clock CLOCK = Clock.systemUTC();
  private static final HostName HOST = HostName.parse("127.0.0.1");

  private OrderWhileServing() {}

  /** Orders, serves, renews under load. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    Path folder = Files.createTempDirectory("symbolon-order").resolve("issuing");
    int proofPort = freePort();
    try (Secret password = Secret.of("only for the example".toCharArray(), "example")) {
      SigningAuthority founded =
          SigningAuthority.found(
              folder,
              AuthorityPlan.of(
                  DistinguishedName.parse("CN=Lanternfish Service CA"),
                  KeyKind.EC_P256,
                  Lifetime.years(2)),
              Optional.empty(),
              password,
              RANDOM,
              CLOCK);
      try (Database database = Database.embedded(folder.resolve(IssueTablesOpener.NAME))) {
        // What it issues, its accounts and its orders are all in this database.
        IssueTables issued = IssueTables.in(database, founded.folder().identity(), "the folder");
        SigningAuthority authority = founded.moveRecords(issued, IssueTablesOpener.IN_FOLDER);
        try (AuthorityServer answers =
            AuthorityServer.start(
                authority, Records.in(database), plan(proofPort), RANDOM, CLOCK)) {
          serve(URI.create(answers.directory()), authority.folder().certificate(), proofPort);
        }
        System.out.println("on record: " + authority.folder().reconcile().issued().size());
      }
    }
  }

  private static AnswerPlan plan(int proofPort) {
    return AnswerPlan.of(loopback(0), HOST)
        .withAllowed(List.of("127.0.0.1"))
        .withLookup(new AnswerPlan.Lookup(Map.of(), Optional.empty(), proofPort, proofPort));
  }

  /** The service: what it needs to know is where the authority answers, and its root. */
  private static void serve(URI directory, Certificate root, int proofPort)
      throws IOException, InterruptedException {
    SSLContext trusting = TlsSetup.client(Trust.in(root)).context();
    RemoteAuthority authority = RemoteAuthority.at(directory, trusting, Patience.usual());
    RemoteAccount account =
        authority.register(
            AccountKey.of(KeyKind.EC_P256.generate(RANDOM)), List.of(), true, Optional.empty());
    AtomicReference<Credential> current = new AtomicReference<>();
    current.set(obtain(account, proofPort, Optional.empty()));
    ReloadingTls tls =
        ReloadingTls.of(() -> TlsSetup.server(Objects.requireNonNull(current.get())));
    HttpsServer listening = HttpsServer.create(loopback(0), 0);
    listening.setHttpsConfigurator(new HttpsConfigurator(tls.context()));
    listening.start();
    AtomicInteger good = new AtomicInteger();
    AtomicInteger failed = new AtomicInteger();
    Set<String> seen = ConcurrentHashMap.newKeySet();
    Thread load = new Thread(() -> load(trusting, listening.getAddress(), good, failed, seen));
    try {
      load.start();
      Certificate first = Objects.requireNonNull(current.get()).certificate();
      System.out.println("serves with a certificate for " + first.alternativeNames());
      System.out.println(
          "to be renewed before it ends: "
              + authority
                  .renewal(first)
                  .filter(window -> window.start().isBefore(first.notAfter()))
                  .isPresent());
      await(good, 20);
      current.set(obtain(account, proofPort, Optional.of(first)));
      System.out.println("reload: " + tls.reload().outcome());
      await(good, good.get() + 20);
    } finally {
      load.interrupt();
      load.join();
      listening.stop(0);
    }
    System.out.println("certificates that clients saw: " + seen.size());
    System.out.println("handshakes that failed: " + failed);
  }

  /** Control is shown by a file over HTTP, for as long as the order takes. */
  private static Credential obtain(
      RemoteAccount account, int proofPort, Optional<Certificate> replaced) {
    KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    Order order = account.order(List.of(HOST), replaced);
    RequestDraft draft =
        new RequestDraft(
            DistinguishedName.parse(""), List.of(GeneralName.ofHost(HOST.toString())), Use.SERVER);
    List<Certificate> chain =
        new Ordering(
                account, List.of(new HttpListener(loopback(proofPort))), Ordering.Progress.SILENT)
            .obtain(
                order,
                draft.sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic())),
                Optional.empty());
    return Credential.ofPair(pair, chain);
  }

  private static void load(
      SSLContext trusting,
      InetSocketAddress address,
      AtomicInteger good,
      AtomicInteger failed,
      Set<String> seen) {
    while (!Thread.currentThread().isInterrupted()) {
      try (SSLSocket socket =
          (SSLSocket)
              trusting.getSocketFactory().createSocket(HOST.toString(), address.getPort())) {
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setEndpointIdentificationAlgorithm("HTTPS"); // the address is checked as well
        socket.setSSLParameters(parameters);
        socket.startHandshake();
        seen.add(Certificate.of(socket.getSession().getPeerCertificates()[0]).sha256());
        good.incrementAndGet();
      } catch (IOException e) {
        failed.incrementAndGet();
      }
    }
  }

  private static void await(AtomicInteger count, int wanted) throws InterruptedException {
    while (count.get() < wanted) {
      Thread.sleep(10);
    }
  }

  private static InetSocketAddress loopback(int port) {
    return new InetSocketAddress(InetAddress.getLoopbackAddress(), port);
  }

  private static int freePort() throws IOException {
    try (ServerSocket any = new ServerSocket(0)) {
      return any.getLocalPort();
    }
  }
}
