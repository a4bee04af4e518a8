// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Element;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.util.List;
import javax.security.auth.x500.X500Principal;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class NamesTest {
  @ParameterizedTest
  @ValueSource(
      strings = {
        "CN=ingest.lanternfish.example,O=Lanternfish Observatory",
        "CN=Lanternfish\\, Root,O=A \\+ B\\; \\\"C\\\" \\<D\\> \\\\",
        "CN=\\#1 buoy,OU=\\ leading and trailing\\ ",
        "CN=Buoy 17+UID=buoy-017,OU=Clients,OU=Buoys,DC=lanternfish,DC=example",
        "CN=Tiefsee-Observatorium Grönland,O=深海",
        "CN=x\\0Ay",
        "",
      })
  void theTextFormGoesBothWaysAndThePlatformReadsTheSame(String text) {
    DistinguishedName name = DistinguishedName.parse(text);
    assertEquals(text, name.toString());
    assertEquals(name, DistinguishedName.read(Element.read(name.encoding())));
    X500Principal platform = new X500Principal(name.encoding());
    assertEquals(new X500Principal(platform.getName()), platform);
    assertEquals(name, DistinguishedName.read(Element.read(platform.getEncoded())));
  }

  @Test
  void aNameIsComparedWithoutCaseAndNeedlessSpaces() {
    DistinguishedName name = DistinguishedName.parse("CN=Lanternfish Root,O=Observatory");
    DistinguishedName same = DistinguishedName.parse("cn = LANTERNFISH  root , o=observatory");
    assertEquals(name, same);
    assertEquals(name.hashCode(), same.hashCode());
    assertNotEquals(name, DistinguishedName.parse("O=Observatory,CN=Lanternfish Root"));
    assertNotEquals(name, DistinguishedName.parse("CN=Lanternfish Root"));
  }

  @Test
  void whatWouldActOnATerminalIsEscaped() {
    DistinguishedName name = DistinguishedName.parse("CN=a\\1B[31mb\\E2\\80\\AEc");
    assertEquals("CN=a\\1B[31mb\\E2\\80\\AEc", name.toString());
    assertEquals("a\\u{1B}[31mb\\u{202E}c", name.shortText());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "CN",
        "CN=",
        "=x",
        "CN=a,,O=b",
        "CN=a,",
        "XX=a",
        "CN=a\\",
        "CN=\"a",
        "CN=a\"b",
        "CN=#zz",
        "CN=#0102",
        "9.9.x=a",
        "CN=\\FF"
      })
  void whatIsNoNameIsRefusedWithItsPlace(String text) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> DistinguishedName.parse(text));
    assertEquals(Reason.INVALID_ARGUMENT, e.reason());
    assertTrue(e.seen().startsWith("At character"), e.seen());
  }

  @ParameterizedTest
  @CsvSource({
    "ingest.lanternfish.example, ingest.lanternfish.example",
    "INGEST.Lanternfish.example., ingest.lanternfish.example",
    "*.lanternfish.example, *.lanternfish.example",
    "tiefsee-grönland.example, xn--tiefsee-grnland-itb.example",
    "192.0.2.17, 192.0.2.17",
    "2001:DB8:0:0:0:0:0:17, 2001:db8::17",
    "[2001:db8::1:0:0:17], 2001:db8::1:0:0:17",
    "::, ::",
    "::1, ::1",
    "fe80::, fe80::",
  })
  void hostsAreBroughtToOneForm(String text, String form) {
    assertEquals(form, HostName.parse(text).toString());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        ".",
        "a..b",
        "-a.example",
        "a b.example",
        "https://x.example",
        "x.example:443",
        "a.*.example",
        "*",
        "2001:db8::1::2",
        "1:2:3:4:5:6:7:8:9",
        "x/y",
        "a\u0000.example"
      })
  void whatIsNoHostIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> HostName.parse(text));
  }

  @Test
  void aWildcardStandsForExactlyOneLabel() {
    List<GeneralName> names =
        List.of(
            GeneralName.ofHost("*.lanternfish.example"),
            GeneralName.ofHost("lanternfish.example"),
            GeneralName.ofHost("192.0.2.17"),
            new GeneralName(GeneralName.NameForm.DNS, "*.example"),
            new GeneralName(GeneralName.NameForm.DNS, "*"));
    assertTrue(HostName.parse("Ingest.lanternfish.example").isCoveredBy(names));
    assertTrue(HostName.parse("lanternfish.example").isCoveredBy(names));
    assertTrue(HostName.parse("192.0.2.17").isCoveredBy(names));
    assertFalse(HostName.parse("a.b.lanternfish.example").isCoveredBy(names));
    assertFalse(HostName.parse("other.example").isCoveredBy(names), "*.example is too wide");
    assertFalse(HostName.parse("localhost").isCoveredBy(names));
    assertFalse(HostName.parse("192.0.2.18").isCoveredBy(names));
    assertFalse(
        HostName.parse("192.0.2.17")
            .isCoveredBy(List.of(new GeneralName(GeneralName.NameForm.DNS, "192.0.2.17"))),
        "an address must stand as an address");
  }
}
