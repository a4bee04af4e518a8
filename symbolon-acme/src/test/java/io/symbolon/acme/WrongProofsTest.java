// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static io.symbolon.acme.ServedAuthority.hosts;
import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.acme.wire.Sha256;
import io.symbolon.der.Der;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.KeyStore;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is nearly a proof is none: each answer of a host is right to the last octet, or refused. */
class WrongProofsTest {
  private static final String INGEST = ServedAuthority.HOSTS.get(0);
  private static final int HOSTS = 12;
  private static final Oid EXTENSION = Oid.of("1.3.6.1.5.5.7.1.31");

  @TempDir Path temp;
  private ServedAuthority served;
  private AccountKey key;
  private RemoteAccount account;

  @BeforeEach
  void serve() {
    Map<String, String> addresses = new HashMap<>();
    addresses.put(INGEST, "127.0.0.1");
    for (int i = 0; i < HOSTS; i++) {
      addresses.put(name(i), address(i));
    }
    served =
        ServedAuthority.in(
            temp,
            plan ->
                plan.withLookup(
                    new Lookup(
                        addresses,
                        Optional.empty(),
                        plan.lookup().httpPort(),
                        plan.lookup().tlsPort())));
    key = ServedAuthority.key();
    account = served.remote().register(key, List.of(), true);
  }

  @AfterEach
  void stop() {
    served.close();
  }

  /** Each host has an address of its own, so that all of them are looked at together. */
  private static String address(int host) {
    return "127.0.7." + (1 + host);
  }

  private static String name(int host) {
    return "buoy-" + host + ".lanternfish.example";
  }

  /** Answers each connection; what it answers knows what would be right. */
  private interface Host {
    ServerSocket open(InetAddress at, String name, String authorization) throws Exception;

    void answer(Socket socket, String authorization) throws Exception;
  }

  private record Asked(ServerSocket socket, URI authorization) {}

  private Asked ask(String type, int number, Host host) throws Exception {
    Order order = account.order(hosts(name(number)));
    URI url = order.authorizations().get(0);
    Authorization.Challenge challenge =
        account.authorization(url).challenges().stream()
            .filter(one -> one.type().equals(type))
            .findFirst()
            .orElseThrow();
    String wanted = key.authorizationOf(challenge.token());
    ServerSocket socket = host.open(InetAddress.getByName(address(number)), name(number), wanted);
    Thread thread =
        new Thread(
            () -> {
              while (!socket.isClosed()) {
                try (Socket one = socket.accept()) {
                  host.answer(one, wanted);
                } catch (Exception e) {
                  // whoever asked has gone, or the test is over
                }
              }
            });
    thread.setDaemon(true);
    thread.start();
    account.ready(challenge);
    return new Asked(socket, url);
  }

  private String outcome(Asked asked) throws Exception {
    try {
      return await()
          .atMost(Duration.ofMinutes(2))
          .until(
              () -> account.authorization(asked.authorization()).status(),
              status -> status != Authorization.Status.PENDING)
          .name();
    } finally {
      asked.socket().close();
    }
  }

  private Host http(String status, Function<String, String> body) {
    return new Host() {
      @Override
      public ServerSocket open(InetAddress at, String name, String authorization)
          throws IOException {
        return new ServerSocket(served.httpPort, 50, at);
      }

      @Override
      public void answer(Socket socket, String authorization) throws IOException {
        byte[] asked = new byte[2_048];
        int count = socket.getInputStream().read(asked);
        String whole = "HTTP/1.1 " + status + "\r\n\r\n" + body.apply(authorization);
        socket
            .getOutputStream()
            .write(whole.getBytes(StandardCharsets.ISO_8859_1), 0, whole.length());
        socket.getOutputStream().flush();
        assertEquals(true, count > 0);
      }
    };
  }

  @Test
  void aFileIsRightToItsLastOctet() throws Exception {
    Map<String, Host> files = new LinkedHashMap<>();
    files.put("good", http("200 OK", wanted -> wanted));
    files.put("good with a line end", http("200 OK", wanted -> wanted + "\r\n"));
    files.put("more behind it", http("200 OK", wanted -> wanted + "x"));
    files.put("another line behind it", http("200 OK", wanted -> wanted + "\nx"));
    files.put("something before it", http("200 OK", wanted -> " " + wanted));
    files.put("a part of it", http("200 OK", wanted -> wanted.substring(0, wanted.length() - 1)));
    files.put(
        "the token alone", http("200 OK", wanted -> wanted.substring(0, wanted.indexOf('.'))));
    files.put("other case", http("200 OK", wanted -> wanted.toLowerCase(java.util.Locale.ROOT)));
    files.put("nothing", http("200 OK", wanted -> ""));
    files.put("right, not found", http("404 Not Found", wanted -> wanted));
    files.put("right, made", http("201 Created", wanted -> wanted));
    files.put("right, partly", http("206 Partial Content", wanted -> wanted));
    hold("http-01", files);
  }

  private void hold(String type, Map<String, Host> hosts) throws Exception {
    Map<String, String> expected = new TreeMap<>();
    Map<String, Asked> asked = new LinkedHashMap<>();
    for (Map.Entry<String, Host> one : hosts.entrySet()) {
      expected.put(one.getKey(), one.getKey().startsWith("good") ? "VALID" : "INVALID");
      asked.put(one.getKey(), ask(type, asked.size(), one.getValue()));
    }
    Map<String, String> seen = new TreeMap<>();
    for (Map.Entry<String, Asked> one : asked.entrySet()) {
      seen.put(one.getKey(), outcome(one.getValue()));
    }
    assertEquals(expected, seen);
  }

  /** A certificate that a host shows; what it is made of may be wrong. */
  private record Shown(List<String> names, boolean critical, String extra, boolean own) {
    Certificate make(KeyPair pair, String name, String authorization) {
      Instant now = Instant.now();
      byte[] digest = Sha256.of(authorization + extra);
      CertificateBuilder builder =
          CertificateBuilder.of(
                  DistinguishedName.parse("CN=proof"), SubjectPublicKeyInfo.of(pair.getPublic()))
              .validity(now.minus(Duration.ofDays(1)), now.plus(Duration.ofDays(1)))
              .endEntity()
              .alternativeNames(
                  names.stream()
                      .map(one -> one.isEmpty() ? name : one)
                      .map(GeneralName::ofHost)
                      .toList());
      if (!extra.equals("none")) {
        builder = builder.add(new Extension(EXTENSION, critical, Der.octets(digest)));
      }
      return own
          ? builder.signSelf(pair.getPrivate(), Lanternfish.RANDOM)
          : builder.sign(
              Lanternfish.ISSUING.credential().certificate(),
              Lanternfish.ISSUING.credential().key().toPrivateKey(),
              Lanternfish.RANDOM);
    }
  }

  private Host tls(String protocol, Shown shown) {
    return new Host() {
      @Override
      public ServerSocket open(InetAddress at, String name, String authorization) throws Exception {
        KeyPair pair = KeyKind.EC_P256.generate(Lanternfish.RANDOM);
        KeyStore store = KeyStore.getInstance("PKCS12");
        store.load(null, null);
        store.setKeyEntry(
            "proof",
            pair.getPrivate(),
            new char[0],
            new java.security.cert.Certificate[] {
              shown.make(pair, name, authorization).toX509Certificate()
            });
        KeyManagerFactory keys = KeyManagerFactory.getInstance("PKIX");
        keys.init(store, new char[0]);
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(keys.getKeyManagers(), null, null);
        SSLServerSocket socket =
            (SSLServerSocket)
                context.getServerSocketFactory().createServerSocket(served.tlsPort, 50, at);
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setApplicationProtocols(new String[] {protocol});
        socket.setSSLParameters(parameters);
        return socket;
      }

      @Override
      public void answer(Socket socket, String authorization) throws IOException {
        ((SSLSocket) socket).startHandshake();
      }
    };
  }

  @Test
  void aCertificateProvesOneNameAndNothingElse() throws Exception {
    String other = ServedAuthority.HOSTS.get(1);
    String own = ""; // the name that is proven
    String name = "acme-tls/1";
    Map<String, Host> hosts = new LinkedHashMap<>();
    hosts.put("good", tls(name, new Shown(List.of(own), true, "", true)));
    hosts.put("two names", tls(name, new Shown(List.of(own, other), true, "", true)));
    hosts.put("two names, turned", tls(name, new Shown(List.of(other, own), true, "", true)));
    hosts.put("another name", tls(name, new Shown(List.of(other), true, "", true)));
    hosts.put("a wildcard", tls(name, new Shown(List.of("*.lanternfish.example"), true, "", true)));
    hosts.put("not critical", tls(name, new Shown(List.of(own), false, "", true)));
    hosts.put("another digest", tls(name, new Shown(List.of(own), true, "x", true)));
    hosts.put("no digest", tls(name, new Shown(List.of(own), true, "none", true)));
    hosts.put("an authority's", tls(name, new Shown(List.of(own), true, "", false)));
    hosts.put("another protocol", tls("http/1.1", new Shown(List.of(own), true, "", true)));
    hold("tls-alpn-01", hosts);
  }

  /** An order that replaces a certificate marks it, so that the next one is none (RFC 9773, 5). */
  @Test
  void aCertificateThatWasReplacedIsMarked() {
    Certificate first = obtain(Optional.empty());
    String serial = first.serial().toString(16);
    assertEquals(
        List.of(false),
        served.records.certifiedAs(serial).stream().map(one -> one.isReplaced()).toList());
    obtain(Optional.of(first));
    assertEquals(
        List.of(true),
        served.records.certifiedAs(serial).stream().map(one -> one.isReplaced()).toList());
  }

  private Certificate obtain(Optional<Certificate> before) {
    Order order =
        before
            .map(one -> account.order(hosts(INGEST), one))
            .orElseGet(() -> account.order(hosts(INGEST)));
    return new Ordering(account, List.of(served.http()), Ordering.Progress.SILENT)
        .obtain(order, ServedAuthority.request(ServedAuthority.pair(), INGEST))
        .get(0);
  }
}
