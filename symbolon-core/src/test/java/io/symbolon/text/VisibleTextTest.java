// SPDX-License-Identifier: Apache-2.0
package io.symbolon.text;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class VisibleTextTest {
  @ParameterizedTest
  @CsvSource({
    "plain, plain",
    "Grönland 深海, Grönland 深海",
    "'a\tb', 'a\\u{9}b'",
    "'a\nb', 'a\\u{A}b'",
    "a\u001B[31mb, a\\u{1B}[31mb",
    "a\u202Eb, a\\u{202E}b",
    "a\u2066b, a\\u{2066}b",
    "a\u200Bb, a\\u{200B}b",
    "a\uFEFFb, a\\u{FEFF}b",
    "a\u0000b, a\\u{0}b",
    "a\u009Bb, a\\u{9B}b",
    "a\uE000b, a\\u{E000}b",
  })
  void whatDoesNotShowIsMadeVisible(String text, String shown) {
    assertEquals(shown, VisibleText.of(text));
  }

  @Test
  void aLoneSurrogateIsMadeVisibleAndAWholePairIsNot() {
    assertEquals("a\\u{D800}b", VisibleText.of("a\uD800b"));
    assertEquals("a\uD83D\uDC20b", VisibleText.of("a\uD83D\uDC20b"));
  }

  @Test
  void aTextOfAMegabyteIsCut() {
    assertTrue(VisibleText.of("x".repeat(1 << 20)).length() < 500);
  }
}
