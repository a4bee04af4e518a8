// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import io.symbolon.failure.SymbolonException;
import java.net.IDN;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Hosts as browsers ask for them (RFC 5891; the characters that differ from the older standard).
 */
class HostNameTest {
  @ParameterizedTest
  @CsvSource({
    "bücher.example,xn--bcher-kva.example",
    "BÜCHER.example,xn--bcher-kva.example",
    "faß.example,xn--fa-hia.example",
    "straße.example,xn--strae-oqa.example",
    "βόλος.example,xn--nxasmm1c.example",
    "ශ්\u200Dරී.example,xn--10cl1a0b660p.example",
    "他们为什么不说中文.example,xn--ihqwcrb4cv8a8dqg056pqjye.example",
    "fass.example,fass.example",
    "*.bücher.example,*.xn--bcher-kva.example"
  })
  void aNameInOtherLettersIsEncodedAsBrowsersDo(String typed, String encoded) {
    HostName host = HostName.parse(typed);
    assertEquals(encoded, host.toString());
    assertEquals(typed.toLowerCase(java.util.Locale.ROOT), host.typed());
    assertEquals(host, HostName.parse(encoded));
  }

  @Test
  void whereTheStandardsAgreeThePlatformEncodesTheSame() {
    for (String typed :
        new String[] {"größe-und-maß".replace("ß", "ss"), "ålesund", "кафе", "例え", "한국", "ñandú"}) {
      assertEquals(IDN.toASCII(typed), HostName.parse(typed).toString());
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "10.0.0.300",
        "1.2",
        "999999.1",
        "17",
        "host.0x1",
        "i♥u.example",
        "-a.example",
        "ab--ü.example",
        "a..example",
        "\u0301a.example",
        "a\u200Bb.example"
      })
  void whatIsNoHostIsRefused(String text) {
    assertThrows(SymbolonException.class, () -> HostName.parse(text));
  }
}
