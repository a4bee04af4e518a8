// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.proof.TlsListener;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.Records;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Path;
import java.security.KeyPair;
import java.time.Clock;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import javax.net.ssl.SSLContext;

/** The observatory's own authority, answering on this machine; and what its clients need. */
final class ServedAuthority implements AutoCloseable {
  static {
    // Longer than any test: a client that hangs is not let go of, and whoever waits for it fails.
    System.setProperty("sun.net.httpserver.maxReqTime", "600");
    System.setProperty("sun.net.httpserver.nodelay", "true");
  }

  static final List<String> HOSTS =
      List.of("ingest.lanternfish.example", "catalogue.lanternfish.example");

  final SigningAuthority signing;
  final Records records;
  final AuthorityServer server;
  final int httpPort = free();
  final int tlsPort = free();

  private ServedAuthority(
      SigningAuthority signing, Records records, UnaryOperator<AnswerPlan> more) {
    this.signing = signing;
    this.records = records;
    Map<String, String> addresses = new HashMap<>();
    HOSTS.forEach(host -> addresses.put(host, "127.0.0.1"));
    AnswerPlan plan = AnswerPlan.of(loopback(0), HostName.parse("127.0.0.1"));
    Lookup lookup = new Lookup(addresses, Optional.empty(), httpPort, tlsPort);
    this.server =
        AuthorityServer.start(
            signing,
            records,
            more.apply(plan.withLookup(lookup)),
            Lanternfish.RANDOM,
            Clock.systemUTC());
  }

  private static int free() {
    try {
      return FreePort.take();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  static InetSocketAddress loopback(int port) {
    return new InetSocketAddress(InetAddress.getLoopbackAddress(), port);
  }

  static ServedAuthority in(Path folder) {
    return in(folder, plan -> plan);
  }

  static ServedAuthority in(Path folder, UnaryOperator<AnswerPlan> more) {
    SigningAuthority root =
        SigningAuthority.found(
            folder.resolve("root"),
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Root"),
                KeyKind.EC_P256,
                Lifetime.years(10)),
            Optional.empty(),
            Lanternfish.secret("kelp-forest-17"),
            Lanternfish.RANDOM,
            Clock.systemUTC());
    SigningAuthority issuing =
        SigningAuthority.found(
            folder.resolve("issuing"),
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Issuing A"),
                KeyKind.EC_P256,
                Lifetime.years(5)),
            Optional.of(root),
            Lanternfish.secret("kelp-forest-17"),
            Lanternfish.RANDOM,
            Clock.systemUTC());
    Database database = Database.embedded(folder.resolve("issuing/records"));
    return new ServedAuthority(issuing, Records.in(database), more);
  }

  SSLContext trust() {
    var chain = signing.folder().chain();
    return TlsSetup.client(Trust.in(chain.get(chain.size() - 1))).context();
  }

  RemoteAuthority remote() {
    return RemoteAuthority.at(
        URI.create(server.directory()), trust(), Patience.usual().within(Duration.ofSeconds(60)));
  }

  static AccountKey key() {
    return AccountKey.of(KeyKind.EC_P256.generate(Lanternfish.RANDOM));
  }

  RemoteAccount account() {
    return remote().register(key(), List.of(), true);
  }

  HttpListener http() {
    return new HttpListener(loopback(httpPort));
  }

  TlsListener tls() {
    return new TlsListener(loopback(tlsPort), Clock.systemUTC(), Lanternfish.RANDOM);
  }

  static List<HostName> hosts(String... names) {
    return List.of(names).stream().map(HostName::parse).toList();
  }

  static CertificateRequest request(KeyPair pair, String... names) {
    List<GeneralName> all = List.of(names).stream().map(GeneralName::ofHost).toList();
    return new RequestDraft(DistinguishedName.parse(""), all, Use.SERVER)
        .sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic()));
  }

  static KeyPair pair() {
    return KeyKind.EC_P256.generate(Lanternfish.RANDOM);
  }

  @Override
  public void close() {
    server.close();
    records.close();
  }
}
