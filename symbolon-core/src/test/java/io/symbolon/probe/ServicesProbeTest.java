// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.LoopbackServer;
import io.symbolon.key.KeyKind;
import io.symbolon.party.CipherSuite;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What a probe finds out besides one handshake: versions, addresses, services, hostile peers. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ServicesProbeTest {
  private static final Credential EC =
      io.symbolon.fixture.Lanternfish.server(HOST, KeyKind.EC_P256);

  private static Probe probe(LoopbackServer server) {
    return Probe.of("127.0.0.1", server.port())
        .withHost(HostName.parse(HOST))
        .withTrust(List.of(root()))
        .withLimit(Duration.ofMinutes(1));
  }

  private static List<String> ids(ProbeReport report) {
    return report.findings().stream().map(io.symbolon.finding.Finding::id).toList();
  }

  /** TLS as a server over a connection that exists, until the client hangs up. */
  private static void tls(SSLContext context, Socket connection) throws IOException {
    try (SSLSocket socket =
        (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
      socket.startHandshake();
      assertTrue(socket.getInputStream().read() < 0);
    }
  }

  private static LoopbackServer tls(UnaryOperator<TlsSetup> terms, Credential credential)
      throws IOException {
    SSLContext context = terms.apply(TlsSetup.server(credential)).context();
    return LoopbackServer.plain(connection -> tls(context, connection));
  }

  @Test
  void theVersionsAndSuitesFoundAreExactlyThoseThatAreSwitchedOn() throws IOException {
    String[] suites = {
      "TLS_ECDHE_ECDSA_WITH_AES_256_GCM_SHA384",
      "TLS_ECDHE_ECDSA_WITH_CHACHA20_POLY1305_SHA256",
      "TLS_ECDHE_ECDSA_WITH_AES_128_CBC_SHA",
      "TLS_CHACHA20_POLY1305_SHA256",
      "TLS_AES_128_GCM_SHA256"
    };
    try (LoopbackServer server = tls(setup -> setup.withCipherSuites(suites), EC)) {
      List<VersionTaken> versions = probe(server).run().versions();
      assertEquals(
          List.of("TLS 1.3", "TLS 1.2", "TLS 1.1", "TLS 1.0", "SSL 3.0"),
          versions.stream().map(v -> v.version().title()).toList());
      assertEquals(Arrays.asList(suites).subList(3, 5), names(versions.get(0)));
      assertEquals(Arrays.asList(suites).subList(0, 3), names(versions.get(1)));
      assertTrue(versions.get(0).ownOrder() && versions.get(1).ownOrder());
      for (VersionTaken old : versions.subList(2, 5)) {
        assertEquals(VersionTaken.Answer.REFUSED, old.answer());
        assertFalse(old.seen().isEmpty());
      }
    }
    try (LoopbackServer server = tls(setup -> setup.withProtocols("TLSv1.2"), EC)) {
      ProbeReport report = probe(server).run();
      assertEquals(VersionTaken.Answer.REFUSED, report.versions().get(0).answer());
      assertEquals(
          Stream.of(TlsSetup.server(EC).parameters().getCipherSuites())
              .filter(name -> name.startsWith("TLS_ECDHE_ECDSA_"))
              .sorted()
              .toList(),
          names(report.versions().get(1)).stream().sorted().toList());
    }
    try (LoopbackServer server = tls(setup -> setup, INGEST)) {
      assertEquals(List.of(), probe(server).withHandshakeAlone().run().versions());
    }
  }

  private static List<String> names(VersionTaken version) {
    return version.suites().stream().map(CipherSuite::name).toList();
  }

  private static String line(InputStream in) throws IOException {
    ByteArrayOutputStream line = new ByteArrayOutputStream();
    for (int c = in.read(); c != '\n' && c >= 0; c = in.read()) {
      line.write(c);
    }
    return line.toString(StandardCharsets.US_ASCII).strip();
  }

  private static void say(Socket socket, String text) throws IOException {
    socket.getOutputStream().write(text.getBytes(StandardCharsets.US_ASCII));
    socket.getOutputStream().flush();
  }

  private static byte[] hex(String text) {
    return HexFormat.of().parseHex(text.replace(" ", ""));
  }

  /** Small stand-ins, with the octets that the standards of the services give. */
  private static boolean begin(StartWith service, Socket socket, boolean willing)
      throws IOException {
    InputStream in = socket.getInputStream();
    switch (service) {
      case POSTGRESQL -> {
        assertEquals("0000000804d2162f", HexFormat.of().formatHex(in.readNBytes(8)));
        say(socket, willing ? "S" : "N");
      }
      case MYSQL -> {
        // packet 0: 10, the version, a number, salt, abilities with or without TLS
        String can = willing ? "ff ff" : "ff f7";
        socket
            .getOutputStream()
            .write(
                hex("1a0000 00 0a 31312e3400 01000000 0102030405060708 00" + can + "2d 0200 ffff"));
        if (willing) {
          byte[] request = in.readNBytes(36); // packet 1 of 32 octets, with the ability for TLS
          assertEquals("20000001", HexFormat.of().formatHex(request, 0, 4));
          assertEquals(0x08, request[5] & 0x08);
        }
      }
      case POP3 -> {
        say(socket, "+OK ready\r\n");
        assertEquals("STLS", line(in));
        say(socket, willing ? "+OK begin\r\n" : "-ERR no TLS here\r\n");
      }
      case FTP -> {
        say(socket, "220-files\r\n220 ready\r\n");
        assertEquals("AUTH TLS", line(in));
        say(socket, willing ? "234 begin\r\n" : "530 Please login with USER and PASS.\r\n");
      }
      case SMTP -> {
        say(socket, "220-relay.lanternfish.example\r\n220 ready\r\n");
        assertTrue(line(in).startsWith("EHLO "));
        say(
            socket,
            "250-relay\r\n250-SIZE 1000\r\n" + (willing ? "250 STARTTLS\r\n" : "250 HELP\r\n"));
        if (willing) {
          assertEquals("STARTTLS", line(in));
          say(socket, "220 go ahead\r\n");
        }
      }
      case IMAP -> {
        say(socket, "* OK ready\r\n");
        String tag = line(in).replace(" STARTTLS", "");
        say(socket, "* NOTE\r\n" + tag + (willing ? " OK begin\r\n" : " BAD no TLS here\r\n"));
      }
      case LDAP -> {
        // LDAPMessage { 17, ExtendedRequest { 1.3.6.1.4.1.1466.20037 } } (RFC 4511, 4.12)
        byte[] request = in.readNBytes(31);
        assertEquals(
            "301d020111"
                + "7718"
                + "8016"
                + HexFormat.of()
                    .formatHex("1.3.6.1.4.1.1466.20037".getBytes(StandardCharsets.US_ASCII)),
            HexFormat.of().formatHex(request));
        socket
            .getOutputStream()
            .write(hex("30840000000c 020111 7807 0a01" + (willing ? "00" : "02") + "0400 0400"));
      }
    }
    return willing;
  }

  @ParameterizedTest
  @EnumSource
  void aServiceThatBeginsInClearTextIsProbedOrSaysThatItDoesNotSwitch(StartWith service)
      throws IOException {
    SSLContext context = TlsSetup.server(EC).context();
    try (LoopbackServer server =
        LoopbackServer.plain(
            connection -> {
              if (begin(service, connection, true)) {
                tls(context, connection);
              }
            })) {
      ProbeReport report = probe(server).withStart(service).run();
      if (service == StartWith.MYSQL) { // it blocks who connects often and does not log in
        assertEquals(List.of("versions-left-out", "root-sent"), ids(report));
        assertEquals(List.of(), report.versions());
      } else {
        assertEquals(List.of("root-sent"), ids(report));
        assertEquals(VersionTaken.Answer.TAKEN, report.versions().get(0).answer());
        assertEquals(VersionTaken.Answer.TAKEN, report.versions().get(1).answer());
      }
    }
    try (LoopbackServer server =
        LoopbackServer.plain(connection -> assertFalse(begin(service, connection, false)))) {
      ProbeReport report = probe(server).withStart(service).run();
      assertEquals(List.of("no-switch-to-tls"), ids(report));
      assertFalse(report.findings().get(0).remedy().advice().isEmpty());
    }
    // Somebody else on that port, somebody who hangs up, and one who never ends.
    for (String other : List.of("HTTP/1.1 400 Bad Request\r\n\r\n", "", "\u0000\u0001\u0002")) {
      try (LoopbackServer server =
          LoopbackServer.plain(
              connection -> {
                say(connection, other);
                Thread.sleep(100);
              })) {
        assertEquals(List.of("no-switch-to-tls"), ids(probe(server).withStart(service).run()));
      }
    }
    try (LoopbackServer server =
        LoopbackServer.plain(
            connection -> {
              while (true) {
                say(connection, service == StartWith.SMTP ? "220-x\r\n" : "* x\r\n");
              }
            })) {
      assertEquals(List.of("no-switch-to-tls"), ids(probe(server).withStart(service).run()));
    }
  }

  @Test
  void everyAddressOfANameIsAskedAndDifferencesAreTold() throws IOException {
    SSLContext one = TlsSetup.server(EC).context();
    SSLContext other = TlsSetup.server(CATALOGUE).context();
    try (LoopbackServer first = LoopbackServer.plain(c -> tls(one, c));
        LoopbackServer second =
            LoopbackServer.plain("127.0.0.2", first.port(), c -> tls(other, c));
        LoopbackServer third = LoopbackServer.plain("127.0.0.3", first.port(), c -> tls(one, c))) {
      Probe probe =
          Probe.of(HOST, first.port())
              .withTrust(List.of(root()))
              .withLimit(Duration.ofSeconds(30))
              .withHandshakeAlone();
      ProbeReport same = probe.withNames(name -> addresses("127.0.0.1", "127.0.0.3")).run();
      assertEquals(List.of("root-sent"), ids(same));
      assertEquals(2, same.addresses().size());
      ProbeReport differ =
          probe.withNames(name -> addresses("127.0.0.4", "127.0.0.1", "127.0.0.2")).run();
      assertEquals(List.of("addresses-differ", "address-without-answer", "root-sent"), ids(differ));
      assertTrue(differ.address().contains("127.0.0.1"), "the first that answers is judged");
      assertTrue(differ.findings().get(0).statement().contains("127.0.0.2"));
      assertTrue(
          differ.findings().get(0).statement().contains(CATALOGUE.certificate().serialHex()));
      assertTrue(differ.findings().get(1).statement().contains("127.0.0.4"));
      assertEquals(third.port(), second.port());
      try (LoopbackServer silent =
          LoopbackServer.plain("127.0.0.5", first.port(), c -> Thread.sleep(60_000))) {
        ProbeReport stuck =
            probe
                .withLimit(Duration.ofSeconds(5))
                .withNames(name -> addresses("127.0.0.5", "127.0.0.1"))
                .run();
        assertEquals(List.of("address-without-answer", "root-sent"), ids(stuck));
        assertTrue(stuck.address().contains("127.0.0.1"), silent.port() + stuck.address());
        assertTrue(stuck.findings().get(0).statement().contains("does not come to TLS"));
      }
    }
  }

  private static InetAddress[] addresses(String... ips) {
    return Arrays.stream(ips)
        .map(
            ip -> {
              try {
                return InetAddress.getByName(ip);
              } catch (java.net.UnknownHostException e) {
                throw new IllegalArgumentException(e);
              }
            })
        .toArray(InetAddress[]::new);
  }

  private static ProbeReport hostile(LoopbackServer.Service service) throws IOException {
    try (LoopbackServer server = LoopbackServer.plain(service)) {
      long start = System.nanoTime();
      ProbeReport report = probe(server).withLimit(Duration.ofSeconds(6)).run();
      assertTrue(Duration.ofNanos(System.nanoTime() - start).toSeconds() < 120);
      return report;
    }
  }

  @Test
  void aChainOfAThousandCertificatesAndOneOf16MebibytesAreRefusedAndExplained() throws IOException {
    Credential many =
        Credential.of(
            EC.key(),
            Stream.concat(
                    Stream.of(EC.certificate()),
                    Stream.generate(io.symbolon.fixture.Lanternfish::issuing).limit(999))
                .toList());
    SSLContext context = TlsSetup.server(many).context();
    ProbeReport report = hostile(connection -> tls(context, connection));
    assertTrue(ids(report).contains("too-much-sent"), report.findings().toString());
    // A certificate message of 16 MiB (RFC 5246, 7.4.2), announced and then sent in full records.
    ProbeReport large =
        hostile(
            connection -> {
              readHello(connection.getInputStream());
              var out = connection.getOutputStream();
              out.write(hex("16 0303 0051 02 00004d 0303" + "17".repeat(32)));
              out.write(hex("20" + "17".repeat(32) + "c02b 00 0005 ff01000100".replace(" ", "")));
              byte[] record = new byte[5 + 16_384];
              System.arraycopy(hex("16 0303 4000"), 0, record, 0, 5);
              System.arraycopy(hex("0b ffffff fffffc fffff9"), 0, record, 5, 10);
              for (int i = 0; i < 1_024; i++) {
                out.write(record);
              }
              Thread.sleep(2_000);
            });
    assertEquals(
        1,
        ids(large).stream().filter(id -> id.equals("too-much-sent")).count(),
        large.findings().toString());
  }

  private static void readHello(InputStream in) throws IOException {
    byte[] header = in.readNBytes(5);
    assertEquals(5, header.length);
    assertTrue(in.readNBytes((header[3] & 0xFF) << 8 | (header[4] & 0xFF)).length > 40);
  }

  @Test
  void recordsOctetByOctetAreReadAndAnEndlessHandshakeIsEnded() throws IOException {
    // The whole handshake, its records torn into single octets, by a relay to a real server.
    SSLContext context = TlsSetup.server(EC).context();
    try (LoopbackServer real = LoopbackServer.plain(connection -> tls(context, connection));
        LoopbackServer relay =
            LoopbackServer.plain(
                connection -> {
                  try (Socket behind = new Socket(InetAddress.getLoopbackAddress(), real.port())) {
                    connection.setTcpNoDelay(true);
                    Thread forth =
                        new Thread(
                            () -> {
                              try {
                                connection.getInputStream().transferTo(behind.getOutputStream());
                                behind.shutdownOutput();
                              } catch (IOException e) {
                                return; // hung up
                              }
                            });
                    forth.start();
                    InputStream in = behind.getInputStream();
                    for (int octet = in.read(); octet >= 0; octet = in.read()) {
                      connection.getOutputStream().write(octet);
                      connection.getOutputStream().flush();
                    }
                  }
                })) {
      ProbeReport report = probe(relay).run();
      assertEquals(List.of("root-sent"), ids(report));
      assertEquals(VersionTaken.Answer.TAKEN, report.versions().get(0).answer());
    }
    // Warnings without end, and a record that never becomes whole.
    for (String endless : List.of("15 0303 0002 01 5a", "00")) {
      SymbolonException e =
          org.junit.jupiter.api.Assertions.assertThrows(
              SymbolonException.class,
              () ->
                  hostile(
                      connection -> {
                        if (endless.length() < 4) {
                          connection.getOutputStream().write(hex("16 0303 4000"));
                        }
                        while (true) {
                          connection.getOutputStream().write(hex(endless));
                          connection.getOutputStream().flush();
                          Thread.sleep(endless.length() < 4 ? 50 : 1);
                        }
                      }));
      assertEquals(io.symbolon.failure.Reason.NO_ANSWER, e.reason());
    }
  }

  @Test
  void garbageInsteadOfAHelloIsToldAsNoTls() throws IOException {
    byte[] garbage = new byte[4_096];
    new java.util.Random(17).nextBytes(garbage);
    garbage[0] = 0x7B;
    ProbeReport report =
        hostile(
            connection -> {
              connection.getOutputStream().write(garbage);
              Thread.sleep(300);
            });
    assertEquals(List.of("no-tls"), ids(report));
    assertEquals(List.of(), report.versions(), "who speaks no TLS is not asked for versions");
  }

  @Test
  void answersToOffersAreReadWithinBounds() {
    // Every beginning of a hello, and every octet of it changed, is an answer or an IOException.
    byte[] hello =
        hex(
            "16 0303 0056 02 000052 0303"
                + "17".repeat(32)
                + "20"
                + "18".repeat(32)
                + "1301 00 000a 002b0002 0304 ff010000".replace(" ", ""));
    for (int at = 0; at < hello.length; at++) {
      for (int mask : new int[] {0xFF, 0x01, 0x80}) {
        byte[] changed = hello.clone();
        changed[at] ^= (byte) mask;
        readSafely(changed);
        readSafely(Arrays.copyOf(hello, at));
      }
    }
    assertTrue(readSafely(hello));
    assertFalse(readSafely(new byte[1 << 20]));
  }

  private static boolean readSafely(byte[] octets) {
    try {
      return ServerAnswer.read(new java.io.ByteArrayInputStream(octets)).isChoice();
    } catch (IOException e) {
      return false;
    }
  }

  @Test
  void namesWithInvalidCharactersAreRefusedBeforeAnythingIsSent() {
    for (String name :
        List.of(
            "",
            " ",
            "a b",
            "x\u0000y",
            "host/../",
            "a..b",
            "-",
            "x".repeat(64) + ".example",
            "lantern\u202Efish.example",
            "https://ingest",
            "\uD800.example",
            "*")) {
      org.junit.jupiter.api.Assertions.assertThrows(
          SymbolonException.class, () -> Probe.of(name, 443), name);
    }
  }
}
