// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Everything that mail, editors and forms do to a text: read, and told with its line. */
class MangledTextTest {
  private static final byte[] CONTENT = Der.octets(new byte[101]); // ends in padding
  private static final String BLOCK =
      new String(PemWriter.write("CERTIFICATE", CONTENT), StandardCharsets.US_ASCII);

  private static PemContent read(String text) {
    return PemReader.read(text.getBytes(StandardCharsets.UTF_8));
  }

  static Stream<Arguments> habits() {
    String quoted = BLOCK.replace("=", "=3D");
    int half = BLOCK.length() / 2;
    return Stream.of(
        Arguments.of("byte-order mark", "\uFEFF" + BLOCK, 1, "byte-order mark"),
        Arguments.of("Windows", "\n" + BLOCK.replace("\n", "\r\n"), 2, "as on Windows"),
        Arguments.of("indented", BLOCK.replaceAll("(?m)^", "  "), 2, "indented"),
        Arguments.of("text around", "For you:\n\n" + BLOCK, 1, "Text stands around"),
        Arguments.of("dashes", BLOCK.replace("-----", "\u2013\u2013"), 1, "hyphens"),
        Arguments.of("quoted reply", BLOCK.replaceAll("(?m)^", "> "), 2, "reply to a mail"),
        Arguments.of("JSON", "{\"c\":\"" + BLOCK.replace("\n", "\\n") + "\"}", 1, "\\n"),
        Arguments.of("=3D", quoted, 1, "quoted-printable"),
        Arguments.of("=3D and folded", fold(quoted), 1, "quoted-printable"),
        Arguments.of(
            "folded",
            BLOCK.substring(0, half) + "=\n" + BLOCK.substring(half),
            1,
            "quoted-printable"),
        Arguments.of(
            "no last line",
            BLOCK.substring(0, BLOCK.indexOf("-----END")),
            4,
            "complete all the same"),
        Arguments.of(
            "no first line",
            "Hello\n" + BLOCK.substring(BLOCK.indexOf('\n') + 1),
            2,
            "opens the block is missing"));
  }

  /** As mail folds lines: an equals sign at the end, never inside of what it stands for. */
  private static String fold(String text) {
    StringBuilder folded = new StringBuilder();
    for (String line : text.lines().toList()) {
      if (line.startsWith("-----")) {
        folded.append(line).append('\n');
      } else {
        int cut = line.contains("=") ? line.indexOf('=') : line.length() / 2;
        folded.append(line, 0, cut).append("=\n").append(line.substring(cut)).append('\n');
      }
    }
    return folded.toString();
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("habits")
  void isReadAndTold(String name, String text, int line, String told) {
    PemContent read = read(text);
    assertEquals(1, read.blocks().size(), () -> read.flaws().toString());
    assertArrayEquals(CONTENT, read.blocks().get(0).content());
    PemFlaw flaw =
        read.flaws().stream()
            .filter(f -> f.statement().contains(told))
            .findFirst()
            .orElseThrow(() -> new AssertionError(read.flaws().toString()));
    assertEquals(line, flaw.line(), flaw.statement());
    assertTrue(flaw.kind() != PemFlaw.Type.LOST);
  }

  @Test
  void twoBlocksOnOneLine() {
    PemContent read = read(BLOCK.strip() + BLOCK);
    assertEquals(2, read.blocks().size());
    assertEquals(5, read.flaws().get(0).line());
    assertTrue(read.flaws().get(0).statement().contains("line of its own"));
  }

  @Test
  void aCleanTextHasNoFlaws() {
    assertEquals(List.of(), read(BLOCK + "\n" + BLOCK).flaws());
  }

  @Test
  void whatIsNotCertainIsNotGuessed() {
    // A character that is missing, and an equals sign that stands for nothing.
    for (String text :
        List.of(
            BLOCK.replaceFirst("AAAA", "AAA"),
            BLOCK.replaceFirst("AAAA", "A=AA"),
            BLOCK.replaceFirst("AAAA", "A*AA"),
            BLOCK.substring(0, 100))) {
      PemContent read = read(text);
      assertTrue(read.blocks().isEmpty(), text);
      assertEquals(PemFlaw.Type.LOST, read.flaws().get(0).kind());
    }
  }

  @Test
  void aNameInFrontOfABlockIsItsOwn() {
    PemContent read = read("Attributes\n    friendlyName: Tiefsee 17\n" + BLOCK + BLOCK);
    assertEquals("Tiefsee 17", read.blocks().get(0).name().orElseThrow());
    assertTrue(read.blocks().get(1).name().isEmpty());
  }

  @Test
  void base64WithoutBoundariesIsDecoded() {
    byte[] text = Base64.getMimeEncoder().encode(CONTENT);
    assertArrayEquals(CONTENT, BareBase64.decode(text).orElseThrow());
    assertArrayEquals(
        CONTENT, BareBase64.decode(Base64.getUrlEncoder().encode(CONTENT)).orElseThrow());
    assertTrue(BareBase64.decode("just words".getBytes(StandardCharsets.US_ASCII)).isEmpty());
    assertTrue(BareBase64.decode((BLOCK + "*").getBytes(StandardCharsets.US_ASCII)).isEmpty());
  }
}
