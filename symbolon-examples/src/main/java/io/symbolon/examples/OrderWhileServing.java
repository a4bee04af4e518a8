// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import io.symbolon.Material;
import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.chain.Credential;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.authority.FoundJob;
import io.symbolon.task.authority.ServeJob;
import io.symbolon.task.authority.ServedAuthority;
import io.symbolon.task.order.AccountSource;
import io.symbolon.task.order.OrderJob;
import io.symbolon.task.order.Proofs;
import io.symbolon.task.renew.RenewJob;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

/**
 * A service that gets its certificates by itself: an authority answers in this program, the service
 * orders from it over the wire, serves with what comes, and renews while clients call.
 */
public final class OrderWhileServing {
  private static final HostName HOST = HostName.parse("127.0.0.1");

  private OrderWhileServing() {}

  /** Orders, serves, renews under load. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    Path folder = Files.createTempDirectory("symbolon-order");
    Path issuing = folder.resolve("issuing");
    NewPasswordFile password = new NewPasswordFile(folder.resolve("issuing.pw").toString());
    AuthorityPlan plan =
        AuthorityPlan.of(
            DistinguishedName.parse("CN=Lanternfish Service CA"),
            KeyKind.EC_P256,
            Lifetime.years(2));
    int proofPort = freePort();
    try (TaskRun run = TaskRun.open()) {
      new FoundJob(issuing, plan, Optional.empty(), List.of(), ResultOptions.sealedWith(password))
          .run(run);
      // What it issues, its accounts and its orders are all in a database in its folder.
      ServeJob serve =
          new ServeJob(
              issuing,
              answers(proofPort),
              Optional.empty(),
              List.of(PasswordSource.file(password.path())));
      try (ServedAuthority served = serve.start(run)) {
        serve(URI.create(served.directory()), issuing, folder, proofPort);
      }
      System.out.println("on record: " + run.authority(issuing).reconcile().issued().size());
    }
  }

  private static AnswerPlan answers(int proofPort) {
    return AnswerPlan.of(loopback(0), HOST)
        .withAllowed(List.of("127.0.0.1"))
        .withLookup(new AnswerPlan.Lookup(Map.of(), Optional.empty(), proofPort, proofPort));
  }

  /** The service: what it needs to know is where the authority answers, and its root. */
  private static void serve(URI directory, Path issuing, Path folder, int proofPort)
      throws IOException, InterruptedException {
    Path root = issuing.resolve(AuthorityFolder.CERTIFICATE);
    AccountSource account = AccountSource.at(folder.resolve("account"), directory, List.of(root));
    Path keystore = folder.resolve("ingest.p12");
    NewPasswordFile password = new NewPasswordFile(folder.resolve("ingest.pw").toString());
    OrderJob order =
        OrderJob.of(account, List.of(HOST), Destination.of(keystore))
            .proofs(Proofs.of(ProofWay.parse("listen=127.0.0.1:" + proofPort)))
            .seal(password)
            .build();
    try (TaskRun run = TaskRun.open()) {
      System.out.println(
          "serves with a certificate for " + order.run(run).certificate().alternativeNames());
      List<Secret> opens = run.unlock(List.of(PasswordSource.file(password.path())));
      ReloadingTls tls = ReloadingTls.of(() -> TlsSetup.server(read(keystore, root, opens)));
      HttpsServer listening = HttpsServer.create(loopback(0), 0);
      listening.setHttpsConfigurator(new HttpsConfigurator(tls.context()));
      listening.start();
      SSLContext trusting = TlsSetup.client(Material.read(root).trust()).context();
      AtomicInteger good = new AtomicInteger();
      AtomicInteger failed = new AtomicInteger();
      Set<String> seen = ConcurrentHashMap.newKeySet();
      Thread load = new Thread(() -> load(trusting, listening.getAddress(), good, failed, seen));
      try {
        load.start();
        await(good, 20);
        RenewJob renew = RenewJob.of(account).within(Lifetime.years(1));
        renew.run(run).all().forEach(one -> System.out.println(one.outcome().title()));
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
  }

  private static Credential read(Path keystore, Path root, List<Secret> opens) {
    return Material.reader()
        .withPasswords(opens.toArray(Secret[]::new))
        .read(keystore, root)
        .credential();
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
