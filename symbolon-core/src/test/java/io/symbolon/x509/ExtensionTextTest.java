// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.issuing;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Extensions in words, with values as RFC 5280 lays them out. */
class ExtensionTextTest {
  private static List<String> values(Oid oid, byte[] value) {
    return ExtensionText.values(new Extension(oid, false, value));
  }

  private static byte[] uri(String text) {
    return Der.contextPrimitive(6, text.getBytes(StandardCharsets.US_ASCII));
  }

  @Test
  void whatWeIssueIsToldInWords() {
    List<String> told =
        INGEST.certificate().extensions().all().stream()
            .flatMap(e -> ExtensionText.values(e).stream())
            .toList();
    assertTrue(told.contains("no authority"), told.toString());
    assertTrue(told.contains("DNS ingest.lanternfish.example"));
    assertTrue(told.contains("TLS server"));
    assertEquals(
        List.of("authority, with at most 0 intermediates below it"),
        ExtensionText.values(issuing().extensions().find(Oids.BASIC_CONSTRAINTS).orElseThrow()));
  }

  @Test
  void whereListsAndStatusAreFound() {
    byte[] point =
        Der.sequence(Der.context(0, Der.context(0, uri("http://lanternfish.example/a.crl"))));
    assertEquals(
        List.of("URI http://lanternfish.example/a.crl"),
        values(Oids.CRL_DISTRIBUTION, Der.sequence(point)));
    assertEquals(
        List.of("OCSP: URI http://lanternfish.example/status"),
        values(
            Oids.AUTHORITY_INFO,
            Der.sequence(
                Der.sequence(Der.oid(Oids.OCSP), uri("http://lanternfish.example/status")))));
  }

  @Test
  void constraintsOnNames() {
    byte[] dns = Der.contextPrimitive(2, "lanternfish.example".getBytes(StandardCharsets.US_ASCII));
    byte[] network = Der.contextPrimitive(7, new byte[] {10, 1, 0, 0, -1, -1, 0, 0});
    assertEquals(
        List.of("permitted: DNS lanternfish.example", "excluded: IP 10.1.0.0/16"),
        values(
            Oids.NAME_CONSTRAINTS,
            Der.sequence(
                Der.context(0, Der.sequence(dns)), Der.context(1, Der.sequence(network)))));
  }

  @Test
  void whatIsNotKnownOrDamagedComesInHexadecimal() {
    assertEquals(List.of("0c0161"), values(Oid.of("1.2.3.4"), Der.utf8("a")));
    List<String> damaged = values(Oids.KEY_USAGE, new byte[] {5});
    assertTrue(damaged.get(0).startsWith("(damaged)"), damaged.toString());
    assertEquals("05", damaged.get(1));
    assertEquals(List.of("(empty)"), values(Oid.of("1.2.3.4"), new byte[0]));
    List<String> hostile = values(Oids.NETSCAPE_COMMENT, Der.utf8("\u001b[2Jgone"));
    assertTrue(hostile.stream().noneMatch(line -> line.contains("\u001b")), hostile.toString());
  }
}
