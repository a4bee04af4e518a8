// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.acme.Ordering;
import io.symbolon.acme.Patience;
import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.RemoteAuthority;
import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.IssueTables;
import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.acme.records.Records;
import io.symbolon.chain.Credential;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;
import org.openjdk.jmh.annotations.Warmup;

/**
 * Whole orders of fifty clients at once, from the order to the certificate, with proofs over HTTP
 * and everything on record in a database on the disk; beside what the platform needs for as many
 * keys, requests and certificates that are signed, and as many handshakes.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 4, time = 5)
@Measurement(iterations = 5, time = 5)
@Fork(1)
public class Orders {
  private static final int CLIENTS = 50;
  private static final int HOSTS = 40_000; // each host is proven once, so that no proof is spared

  private final SecureRandom random = new SecureRandom();
  private final AtomicInteger next = new AtomicInteger();
  private Path folder;
  private Database database;
  private AuthorityServer server;
  private HttpListener proof;
  private ExecutorService threads;
  private List<RemoteAccount> accounts;
  private KeyPair signer;
  private ServerSocket plain;
  private SSLContext trusting;

  /** A folder in the working directory: a disk, and not a file system in memory. */
  @Setup(Level.Trial)
  public void prepare() throws IOException, GeneralSecurityException {
    AuthorityServer.PROCESS_SETTINGS.forEach(System::setProperty);
    folder =
        Files.createTempDirectory(
            Files.createDirectories(Path.of("target").toAbsolutePath()), "orders-");
    threads = Executors.newFixedThreadPool(CLIENTS);
    signer = BareSigning.pair();
    SigningAuthority founded =
        SigningAuthority.found(
            folder.resolve("issuing"),
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Root"),
                KeyKind.EC_P256,
                Lifetime.years(10)),
            Optional.empty(),
            Secret.of("a password".toCharArray(), "benchmark"),
            random,
            Clock.systemUTC());
    Path records = founded.folder().folder().resolve(IssueTablesOpener.NAME);
    database = Database.embedded(records);
    SigningAuthority authority =
        founded.moveRecords(
            IssueTables.in(database, founded.folder().identity(), "benchmark"),
            IssueTablesOpener.IN_FOLDER);
    int port = freePort();
    server =
        AuthorityServer.start(
            authority, Records.in(database), plan(port), random, Clock.systemUTC());
    proof = new HttpListener(loopback(port));
    trusting = TlsSetup.client(Trust.in(authority.folder().certificate())).context();
    accounts = new ArrayList<>();
    for (int i = 0; i < CLIENTS; i++) {
      accounts.add(
          RemoteAuthority.at(URI.create(server.directory()), trusting, Patience.usual())
              .register(AccountKey.of(KeyKind.EC_P256.generate(random)), List.of(), true));
    }
    listen(authority);
  }

  private AnswerPlan plan(int port) {
    Map<String, String> addresses = new HashMap<>();
    for (int i = 0; i < HOSTS; i++) {
      addresses.put(host(i).toString(), "127.0.0.1");
    }
    return AnswerPlan.of(loopback(0), HostName.parse("127.0.0.1"))
        .withLookup(new AnswerPlan.Lookup(addresses, Optional.empty(), port, port))
        .withLimits(new AnswerPlan.RequestLimits(HOSTS, HOSTS, HOSTS, CLIENTS * 2, CLIENTS * 2));
  }

  /** The platform's own server, for the handshakes beside. */
  private void listen(SigningAuthority authority) throws IOException {
    Credential credential =
        authority.issue(
            new SigningOrder(
                new RequestDraft(
                    DistinguishedName.parse(""),
                    List.of(GeneralName.ofHost("127.0.0.1")),
                    Use.SERVER),
                Lifetime.days(9)),
            KeyKind.EC_P256);
    plain =
        TlsSetup.server(credential)
            .context()
            .getServerSocketFactory()
            .createServerSocket(0, CLIENTS * 2, InetAddress.getLoopbackAddress());
    Thread accepting =
        new Thread(
            () -> {
              while (!plain.isClosed()) {
                try {
                  Socket one = plain.accept();
                  Thread answer = new Thread(() -> answer(one));
                  answer.setDaemon(true);
                  answer.start();
                } catch (IOException e) {
                  // the next one, or the end
                }
              }
            });
    accepting.setDaemon(true);
    accepting.start();
  }

  private static void answer(Socket one) {
    try (one) {
      one.getOutputStream().write('.');
    } catch (IOException e) {
      // the client has gone
    }
  }

  /** Ends it, and removes what was written. */
  @TearDown(Level.Trial)
  public void remove() throws IOException {
    plain.close();
    server.close();
    database.close();
    threads.shutdownNow();
    BareSigning.delete(folder);
  }

  private static HostName host(int number) {
    return HostName.parse("buoy-" + number + ".lanternfish.example");
  }

  private static InetSocketAddress loopback(int port) {
    return new InetSocketAddress(InetAddress.getLoopbackAddress(), port);
  }

  private static int freePort() throws IOException {
    try (ServerSocket any = new ServerSocket(0)) {
      return any.getLocalPort();
    }
  }

  private <T> List<T> atOnce(java.util.function.IntFunction<Callable<T>> each) {
    List<Callable<T>> all = new ArrayList<>();
    for (int i = 0; i < CLIENTS; i++) {
      all.add(each.apply(i));
    }
    List<T> results = new ArrayList<>();
    try {
      for (Future<T> one : threads.invokeAll(all)) {
        results.add(one.get());
      }
    } catch (InterruptedException | ExecutionException e) {
      throw new IllegalStateException(e);
    }
    return results;
  }

  /** Ours: fifty orders, each to its certificate. */
  @Benchmark
  public List<List<Certificate>> symbolon() {
    return atOnce(i -> () -> obtain(accounts.get(i)));
  }

  private List<Certificate> obtain(RemoteAccount account) throws GeneralSecurityException {
    HostName host = host(next.getAndIncrement() % HOSTS);
    KeyPair pair = BareSigning.pair();
    RequestDraft draft =
        new RequestDraft(
            DistinguishedName.parse(""), List.of(GeneralName.ofHost(host.toString())), Use.SERVER);
    return new Ordering(account, List.of(proof), Ordering.Progress.SILENT)
        .obtain(
            account.order(List.of(host)),
            draft.sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic())));
  }

  /** The platform's: fifty keys, twice as many signatures, fifty handshakes. */
  @Benchmark
  public List<byte[]> platform() {
    return atOnce(i -> this::keySignaturesAndHandshake);
  }

  private byte[] keySignaturesAndHandshake() throws GeneralSecurityException, IOException {
    KeyPair made = BareSigning.pair();
    byte[] request = BareSigning.sign(made, made.getPublic().getEncoded());
    byte[] certificate = BareSigning.sign(signer, request);
    try (SSLSocket socket =
        (SSLSocket) trusting.getSocketFactory().createSocket("127.0.0.1", plain.getLocalPort())) {
      if (socket.getInputStream().read() != '.') {
        throw new IOException("no answer");
      }
    }
    return certificate;
  }
}
