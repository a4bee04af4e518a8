// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.chain.Credential;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsalReport;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.List;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLEngineResult.HandshakeStatus;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.TrustManagerFactory;
import org.openjdk.jmh.annotations.AuxCounters;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * A rehearsal of mutual TLS with its checks and findings, beside the bare handshake of the platform
 * in memory with the same keys and certificates, loaded already in both cases.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 6, time = 2)
@Measurement(iterations = 8, time = 2)
@Fork(2)
public class Rehearse {
  private static final String HOST = "ingest.lanternfish.example";

  @Param({"TLSv1.3", "TLSv1.2"})
  private String protocol;

  private Party server;
  private Party client;
  private Rehearsal rehearsal;
  private KeyManagerFactory serverKeys;
  private KeyManagerFactory clientKeys;
  private TrustManagerFactory trust;

  @Setup
  public void prepare() throws GeneralSecurityException, IOException {
    Material material = new Material();
    Credential own = material.server(HOST, KeyKind.EC_P256);
    Credential buoy = material.client("buoy-017", KeyKind.EC_P256);
    Certificate root = own.chain().get(own.chain().size() - 1);
    server = Party.of("server", "server", shown(own)).withTrust(List.of(root));
    client = Party.of("client", "client", shown(buoy)).withTrust(List.of(root));
    rehearsal =
        Rehearsal.create()
            .withHost(HostName.parse(HOST))
            .withProtocols(List.of(ProtocolVersion.ofPlatformName(protocol).orElseThrow()));
    serverKeys = keys(store(shown(own)));
    clientKeys = keys(store(shown(buoy)));
    KeyStore trustStore = KeyStore.getInstance("PKCS12");
    trustStore.load(null, null);
    trustStore.setCertificateEntry("root", root.toX509Certificate());
    trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trust.init(trustStore);
    if (!rehearsal().isAccepted()) {
      throw new IllegalStateException("the pair is not good");
    }
  }

  private static Credential shown(Credential credential) {
    return Credential.of(
        credential.key(), credential.chain().subList(0, credential.chain().size() - 1));
  }

  private static KeyStore store(Credential credential)
      throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    store.setKeyEntry(
        "own",
        credential.key().toPrivateKey(),
        Material.PASSWORD,
        credential.chain().stream()
            .map(Certificate::toX509Certificate)
            .toArray(java.security.cert.Certificate[]::new));
    return store;
  }

  /** What the halves of a pair took in an iteration, in nanoseconds. */
  @AuxCounters(AuxCounters.Type.EVENTS)
  @State(Scope.Thread)
  public static class Halves {
    public long platformNanos;
    public long rehearsalNanos;
  }

  /**
   * One after the other, again and again: a machine whose speed changes from minute to minute
   * changes it for both.
   */
  @Benchmark
  public boolean inTurns(Halves halves) throws GeneralSecurityException, SSLException {
    long start = System.nanoTime();
    String suite = platform();
    long middle = System.nanoTime();
    RehearsalReport report = rehearsal();
    halves.platformNanos += middle - start;
    halves.rehearsalNanos += System.nanoTime() - middle;
    return report.tries().get(0).cipherSuite().orElseThrow().equals(suite);
  }

  @Benchmark
  public RehearsalReport rehearsal() {
    return rehearsal.run(server, client);
  }

  /** The same with certificates that were read just now: nothing is known of their signatures. */
  @Benchmark
  public RehearsalReport rehearsalOfNewCertificates() {
    List<Certificate> trusted = List.of(anew(client.trust().orElseThrow().get(0)));
    return rehearsal.run(anew(server).withTrust(trusted), anew(client).withTrust(trusted));
  }

  private static Party anew(Party party) {
    Credential credential = party.credential().orElseThrow();
    return Party.of(
        party.name(),
        party.where(),
        Credential.of(credential.key(), credential.chain().stream().map(Rehearse::anew).toList()));
  }

  private static Certificate anew(Certificate certificate) {
    return Certificate.read(certificate.encoding());
  }

  @Benchmark
  public String platform() throws GeneralSecurityException, SSLException {
    SSLEngine serving = context(serverKeys).createSSLEngine();
    serving.setUseClientMode(false);
    serving.setNeedClientAuth(true);
    serving.setEnabledProtocols(new String[] {protocol});
    SSLEngine calling = context(clientKeys).createSSLEngine(HOST, 443);
    calling.setUseClientMode(true);
    SSLParameters parameters = calling.getSSLParameters();
    parameters.setProtocols(new String[] {protocol});
    parameters.setEndpointIdentificationAlgorithm("HTTPS");
    calling.setSSLParameters(parameters);
    ByteBuffer forth = ByteBuffer.allocate(1 << 16);
    ByteBuffer back = ByteBuffer.allocate(1 << 16);
    ByteBuffer plain = ByteBuffer.allocate(1 << 16);
    ByteBuffer octet = ByteBuffer.wrap(new byte[] {1});
    calling.beginHandshake();
    serving.beginHandshake();
    int got = 0;
    while (got < 2) { // an octet each way, which ends the handshake for both
      got += step(calling, forth, back, plain, octet);
      got += step(serving, back, forth, plain, octet);
    }
    return calling.getSession().getCipherSuite();
  }

  private static int step(
      SSLEngine engine, ByteBuffer out, ByteBuffer in, ByteBuffer plain, ByteBuffer octet)
      throws SSLException {
    int got = 0;
    for (int i = 0; i < 20; i++) {
      HandshakeStatus status = engine.getHandshakeStatus();
      if (status == HandshakeStatus.NEED_TASK) {
        for (Runnable task = engine.getDelegatedTask();
            task != null;
            task = engine.getDelegatedTask()) {
          task.run();
        }
      } else if (status == HandshakeStatus.NEED_WRAP) {
        engine.wrap(ByteBuffer.allocate(0), out);
      } else if (in.position() > 0) {
        in.flip();
        plain.clear();
        got += engine.unwrap(in, plain).bytesProduced();
        in.compact();
      } else {
        if (status == HandshakeStatus.NOT_HANDSHAKING) {
          octet.rewind();
          engine.wrap(octet, out);
        }
        return got;
      }
    }
    return got;
  }

  /** A new context, because with an old one the second handshake would resume the first. */
  private SSLContext context(KeyManagerFactory keys) throws GeneralSecurityException {
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(keys.getKeyManagers(), trust.getTrustManagers(), null);
    return context;
  }

  private static KeyManagerFactory keys(KeyStore own) throws GeneralSecurityException {
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    keys.init(own, Material.PASSWORD);
    return keys;
  }
}
