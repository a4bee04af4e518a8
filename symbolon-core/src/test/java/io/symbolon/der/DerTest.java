// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.math.BigInteger;
import java.time.Instant;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class DerTest {
  private static byte[] hex(String hex) {
    return HexFormat.of().parseHex(hex.replace(" ", ""));
  }

  @ParameterizedTest
  @CsvSource({
    "0, 020100",
    "127, 02017f",
    "128, 02020080",
    "-128, 020180",
    "-129, 0202ff7f",
    "1208925819614629174706175, 020affffffffffffffffffff, ignored",
  })
  void numbersAreWrittenInTheirShortestForm(BigInteger number, String encoded) {
    byte[] expected = number.bitLength() == 80 ? hex("020b00ffffffffffffffffffff") : hex(encoded);
    assertArrayEquals(expected, Der.integer(number));
    assertEquals(number, Element.read(expected).integer());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "", // nothing
        "30", // no length
        "3003020100 00", // something behind the end
        "30030201", // shorter than it says
        "308003020100 0000", // indefinite
        "308103020100", // length not in its shortest form
        "30820003020100", // the same with a leading zero
        "30847fffffff00", // two gigabytes that are not there
        "3085010000000000", // a length of five octets
        "02020001", // needless zero before a number
        "0202ff80", // needless sign octet
        "0200", // a number without octets
        "01020101", // a BOOLEAN of two octets
        "0603550480", // an identifier that breaks off
        "0603558004", // a needless zero in an identifier
      })
  void whatIsNotStrictDerIsRefused(String encoded) {
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> {
              Element element = Element.read(hex(encoded));
              switch (element.tag()) {
                case Tags.SEQUENCE -> element.cursor().next();
                case Tags.INTEGER -> element.integer();
                case Tags.BOOLEAN -> element.bool();
                default -> element.oid();
              }
            });
    assertEquals(io.symbolon.failure.Reason.NOT_UNDERSTOOD, e.reason());
  }

  @ParameterizedTest
  @CsvSource({
    "2.5.4.3, 0603550403",
    "1.2.840.113549.1.1.11, 06092a864886f70d01010b",
    "2.999.3, 0603883703",
    "0.9.2342.19200300.100.1.25, 060a0992268993f22c640119",
    "2.25.329800735698586629295641978511506172918, 06146983f09da7ebcfdee0c7a1a7b2c0948cc8f9d776",
  })
  void objectIdentifiersGoBothWays(String dotted, String encoded) {
    assertArrayEquals(hex(encoded), Der.oid(Oid.of(dotted)));
    assertEquals(dotted, Element.read(hex(encoded)).oid().toString());
    assertTrue(Element.read(hex(encoded)).isOid(Oid.of(dotted)));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "1", "1.", "1..2", "3.1", "1.40", "a.b", "1.2.x", "-1.2"})
  void whatIsNoObjectIdentifierIsRefused(String dotted) {
    assertThrows(IllegalArgumentException.class, () -> Oid.of(dotted));
  }

  @Test
  void timesChangeTheirTypeIn2050() {
    for (String text : List.of("1950-01-01T00:00:00Z", "2049-12-31T23:59:59Z")) {
      byte[] der = Der.time(Instant.parse(text));
      assertEquals(Tags.UTC_TIME, der[0]);
      assertEquals(Instant.parse(text), Element.read(der).time());
    }
    byte[] der = Der.time(Instant.parse("2050-01-01T00:00:00Z"));
    assertEquals(Tags.GENERALIZED_TIME, der[0]);
    assertEquals(Instant.parse("2050-01-01T00:00:00Z"), Element.read(der).time());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"2613010000Z", "2601320000Z", "260101000000", "26010100000AZ", "2601010000+0100"})
  void impossibleTimesAreRefused(String text) {
    byte[] der =
        Der.tagged(Tags.UTC_TIME, text.getBytes(java.nio.charset.StandardCharsets.US_ASCII));
    assertThrows(SymbolonException.class, () -> Element.read(der).time());
  }

  @Test
  void lengthsOfEverySizeAreReadBack() {
    for (int length : new int[] {0, 1, 127, 128, 255, 256, 65_535, 65_536, 1 << 20}) {
      byte[] der = Der.octets(new byte[length]);
      assertEquals(length, Element.read(der).octets().length);
    }
  }

  @Test
  void setsAreSortedByTheirEncoding() {
    byte[] sorted = Der.setOf(List.of(Der.integer(300), Der.integer(2), Der.integer(1)));
    assertArrayEquals(hex("310a 020101 020102 0202012c"), sorted);
  }

  @Test
  void namedBitsGoBothWays() {
    assertArrayEquals(hex("03020106"), Der.namedBits(0b1100000));
    assertArrayEquals(hex("0303078080"), Der.namedBits(0b100000001));
    for (int bits : new int[] {0, 1, 0b1100000, 0b111111111}) {
      assertEquals(bits, Element.read(Der.namedBits(bits)).namedBits());
    }
  }

  @Test
  void berInAStreamBecomesTheSameAsDer() {
    // An indefinite sequence with an octet string in two pieces, one of them nested.
    byte[] ber = hex("3080 2480 0402 0102 2403 040103 0000 020105 0000");
    assertArrayEquals(hex("3008 0403 010203 020105"), Ber.toDefinite(ber));
    byte[] der = hex("3003020105");
    org.junit.jupiter.api.Assertions.assertSame(der, Ber.toDefinite(der));
  }

  @Test
  void berThatIsNotWholeIsRefused() {
    for (String broken :
        List.of("3080", "30800201", "3080020105", "04800000", "308005", "30840fffffff")) {
      assertThrows(SymbolonException.class, () -> Ber.toDefinite(hex(broken)), broken);
    }
  }

  @Test
  void deepNestingIsRefusedAndDoesNotOverflow() {
    byte[] deep = new byte[200_000];
    for (int i = 0; i < deep.length; i += 2) {
      deep[i] = 0x30;
      deep[i + 1] = (byte) 0x80;
    }
    assertThrows(SymbolonException.class, () -> Ber.toDefinite(deep));
  }

  /** Changed bytes of a real structure: whatever happens, it is the one exception. */
  @Test
  void changedBytesGiveTheOneException() {
    byte[] original =
        Der.sequence(
            Der.context(0, Der.integer(2)),
            Der.oid(Oids.ED25519),
            Der.setOf(List.of(Der.utf8("Lanternfish"), Der.bits(new byte[40]))),
            Der.time(Instant.parse("2026-05-01T12:00:00Z")));
    Random random = new Random(17);
    for (int round = 0; round < 20_000; round++) {
      byte[] changed = original.clone();
      for (int i = 0; i <= random.nextInt(4); i++) {
        changed[random.nextInt(changed.length)] = (byte) random.nextInt();
      }
      byte[] cut = Arrays.copyOf(changed, random.nextInt(changed.length + 1));
      for (byte[] input : List.of(changed, cut)) {
        try {
          walk(Element.read(input));
          Ber.toDefinite(input);
        } catch (SymbolonException expected) {
          assertEquals(io.symbolon.failure.Reason.NOT_UNDERSTOOD, expected.reason());
        }
      }
    }
  }

  private static void walk(Element element) {
    if (element.isConstructed()) {
      Cursor cursor = element.cursor();
      while (cursor.hasNext()) {
        walk(cursor.next());
      }
    }
  }
}
