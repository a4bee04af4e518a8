// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PemTest {
  private static final byte[] CONTENT = Der.octets(new byte[100]);
  private static final String BLOCK =
      new String(PemWriter.write("CERTIFICATE", CONTENT), StandardCharsets.US_ASCII);

  private static PemContent read(String text) {
    return PemReader.read(text.getBytes(StandardCharsets.UTF_8));
  }

  private static void assertOne(PemContent text) {
    assertEquals(1, text.blocks().size());
    assertEquals("CERTIFICATE", text.blocks().get(0).label());
    assertArrayEquals(CONTENT, text.blocks().get(0).content());
  }

  @Test
  void aBlockIsWrittenInLinesOf64Characters() {
    List<String> lines = BLOCK.lines().toList();
    assertEquals("-----BEGIN CERTIFICATE-----", lines.get(0));
    assertEquals(64, lines.get(1).length());
    assertEquals("-----END CERTIFICATE-----", lines.get(lines.size() - 1));
    assertOne(read(BLOCK));
    assertTrue(read(BLOCK).flaws().isEmpty());
  }

  @Test
  void whatMailAndEditorsAddIsPassedOver() {
    String body = BLOCK.replace("\n", "\r\n");
    assertOne(read("Dear colleague,\nhere it is:\n\n" + body + "\nRegards\n"));
    assertOne(read("\uFEFF" + BLOCK));
    assertOne(read(BLOCK.replaceAll("(?m)^", "    ")));
    assertOne(read(BLOCK.replace("\n", " \t\n\n")));
    assertOne(read("subject=CN=Lanternfish Root\nissuer: x\n" + BLOCK));
  }

  @ParameterizedTest
  @ValueSource(strings = {"UTF-16", "UTF-16LE", "UTF-16BE"})
  void utf16IsRead(String charset) {
    assertOne(PemReader.read(BLOCK.getBytes(Charset.forName(charset))));
  }

  @Test
  void boundariesThatAWordProcessorChangedAreReadAndReported() {
    PemContent text = read(BLOCK.replace("-----", "\u2014\u2014\u2013"));
    assertOne(text);
    assertEquals(PemFlaw.Type.MENDED, text.flaws().get(0).kind());
    assertEquals(1, text.flaws().get(0).line());
  }

  @Test
  void blocksGluedTogetherOnALineAreTwo() {
    PemContent text = read(BLOCK.stripTrailing() + BLOCK);
    assertEquals(2, text.blocks().size());
  }

  @Test
  void aMissingLastLineMattersOnlyWhereTheContentIsNotWhole() {
    String withoutEnd = BLOCK.substring(0, BLOCK.indexOf("-----END"));
    PemContent whole = read(withoutEnd);
    assertOne(whole);
    assertEquals(PemFlaw.Type.MENDED, whole.flaws().get(0).kind());

    PemContent cut = read(withoutEnd.substring(0, withoutEnd.length() - 40) + "\n");
    assertTrue(cut.blocks().isEmpty());
    assertEquals(PemFlaw.Type.LOST, cut.flaws().get(0).kind());
  }

  @Test
  void aStrangeCharacterLosesTheBlockAndNamesTheLine() {
    String[] lines = BLOCK.split("\n");
    lines[2] = "ü" + lines[2].substring(1);
    PemContent text = read(String.join("\n", lines));
    assertTrue(text.blocks().isEmpty());
    assertEquals(3, text.flaws().get(0).line());
    assertTrue(text.flaws().get(0).statement().contains("'ü'"), text.flaws().toString());
  }

  @Test
  void headerLinesAreKept() {
    String headers = "Proc-Type: 4,ENCRYPTED\nDEK-Info: AES-128-CBC,0011\n\n";
    PemBlock block = read(BLOCK.replaceFirst("\n", "\n" + headers)).blocks().get(0);
    assertEquals("AES-128-CBC,0011", block.headers().get("DEK-Info"));
    assertArrayEquals(CONTENT, block.content());
  }

  @Test
  void aBoundaryInAProgramsSourceIsNoDamagedBlock() {
    PemContent text = read("BEGIN = \"-----BEGIN CERTIFICATE-----\"\nreturn BEGIN\n" + BLOCK);
    assertOne(text);
    assertEquals(PemFlaw.Type.MENDED, text.flaws().get(0).kind());
    assertTrue(
        read("-----BEGIN PGP SIGNATURE-----\n\niQE=\n=abcd\n-----END PGP SIGNATURE-----\n")
            .isEmpty());
  }

  @Test
  void aBlockInsideAJsonStringIsRead() {
    assertOne(read("{\"certificate\": \"" + BLOCK.replace("\n", "\\n") + "\"}"));
  }

  @Test
  void aBlockThatWasClosedButNeverBeganIsDamaged() {
    PemContent text = read("Here it is:\n\nMIIB" + BLOCK.substring(BLOCK.indexOf('\n') + 1));
    assertTrue(text.blocks().isEmpty());
    assertEquals(PemFlaw.Type.LOST, text.flaws().get(0).kind());
    assertTrue(read("assert line == '-----END CERTIFICATE-----'\n").flaws().isEmpty());
  }

  @Test
  void aProgramWithBoundariesInItIsNoDamagedText() {
    String program = "\u0000\u0001code " + BLOCK.substring(0, 60) + "\u0007\n" + BLOCK;
    PemContent text = read(program);
    assertOne(text);
    assertTrue(text.flaws().stream().noneMatch(f -> f.kind() == PemFlaw.Type.LOST));
  }

  @Test
  void otherTextIsNoPem() {
    assertTrue(read("").isEmpty());
    assertTrue(read("Nothing here.\n--- a line ---\n").isEmpty());
    assertTrue(PemReader.read(new byte[10_000]).isEmpty());
  }
}
