// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.io.ByteArrayOutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What passwords are read from, how they are spelled, and how new ones are made. */
class PasswordsTest {
  private static byte[] written(String text, Charset charset, int... mark) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (int octet : mark) {
      out.write(octet);
    }
    out.writeBytes(text.getBytes(charset));
    return out.toByteArray();
  }

  private static String read(byte[] octets) {
    return String.valueOf(PasswordText.read(octets, "file=pass.txt").reveal());
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "\n", "\r\n", "\r", "\nsecond line", "\r\nsecond line\r\n"})
  void aFileIsReadAsEditorsWriteIt(String end) {
    for (String password : List.of("geheim", "gehéim", "x", "", " edges ", "日本")) {
      String text = password + end;
      assertEquals(password, read(written(text, StandardCharsets.UTF_8)));
      assertEquals(password, read(written(text, StandardCharsets.UTF_8, 0xEF, 0xBB, 0xBF)));
      assertEquals(password, read(written(text, StandardCharsets.UTF_16LE, 0xFF, 0xFE)));
      assertEquals(password, read(written(text, StandardCharsets.UTF_16BE, 0xFE, 0xFF)));
    }
    // What is no UTF-8 is a file of an older system.
    assertEquals("gehéim", read(written("gehéim" + end, StandardCharsets.ISO_8859_1)));
  }

  @Test
  void halfAMarkIsPartOfThePassword() {
    assertEquals("ÿx", read(new byte[] {(byte) 0xFF, 'x'}));
    assertEquals("ÿ", read(new byte[] {(byte) 0xFF}));
    assertEquals("ï»x", read(new byte[] {(byte) 0xEF, (byte) 0xBB, 'x'}));
  }

  @Test
  void whereAPasswordComesFromIsNamed() {
    assertEquals("file=pass.txt", PasswordText.read(new byte[] {'a'}, "file=pass.txt").source());
    char[] much = new char[Limits.PASSWORD_CHARS + 1];
    Arrays.fill(much, 'x');
    SymbolonException e = assertThrows(SymbolonException.class, () -> Secret.of(much, "file=big"));
    assertEquals(Reason.LIMIT_PASSED, e.reason());
    assertTrue(e.statement().contains("file=big"), e.statement());
    assertEquals(
        Limits.PASSWORD_CHARS,
        Secret.of(Arrays.copyOf(much, Limits.PASSWORD_CHARS), "file=big").length());
  }

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '`',
      value = {
        "plain7, ``",
        "a&b, XML SHELL",
        "a<b, XML SHELL",
        "a\"b, XML INI SHELL",
        "a$b, PROPERTIES SHELL",
        "a\\b, PROPERTIES INI SHELL",
        "a%b, INI",
        "a#b, INI SHELL",
        "`a b`, SHELL",
        "` ab`, XML PROPERTIES INI SHELL",
        "`ab\t`, XML PROPERTIES INI SHELL",
        "`a\u0001b`, XML PROPERTIES INI SHELL",
        "a!b, SHELL",
      })
  void whereAPasswordIsTakenForSomethingElseIsKnown(String password, String places) {
    assertEquals(
        Arrays.stream(places.split(" ", -1))
            .filter(one -> !one.isEmpty())
            .map(PasswordPlace::valueOf)
            .collect(Collectors.toSet()),
        PasswordPlace.misreading(secret(password)));
  }

  @Test
  void aNewPasswordHasTheLengthAndTheCharactersThatWereAskedFor() {
    Set<Character> seen = new HashSet<>();
    for (int i = 0; i < 100; i++) {
      Secret made = new PasswordRecipe(40, "abcXYZ").make("new");
      assertEquals(40, made.length());
      assertEquals("new", made.source());
      for (char c : made.reveal()) {
        seen.add(c);
      }
    }
    assertTrue(seen.stream().noneMatch(c -> "abcXYZIl1O0o".indexOf(c) >= 0), seen.toString());
    assertEquals(PasswordRecipe.ALPHABET.length() - 6, seen.size(), "all the others");
    assertFalse(Secret.random("x").isSameAs(Secret.random("x")));
    assertEquals(Set.of(), PasswordPlace.misreading(Secret.random("x")));
  }

  @Test
  void howHardANewPasswordIsToGuess() {
    assertEquals(150, PasswordRecipe.USUAL.bits()); // 26 x log2(56)
    assertTrue(PasswordRecipe.USUAL.isAsStrongAsAKey());
    assertTrue(new PasswordRecipe(23, "").isAsStrongAsAKey(), "133 bits");
    assertFalse(new PasswordRecipe(22, "").isAsStrongAsAKey());
    assertFalse(new PasswordRecipe(12, "").isWeak(), "69 bits");
    assertTrue(new PasswordRecipe(11, "").isWeak());
  }

  @Test
  void aPasswordThatWouldBeWorthNothingIsNotMade() {
    for (int length : new int[] {7, 129, 0, -1}) {
      SymbolonException e =
          assertThrows(SymbolonException.class, () -> new PasswordRecipe(length, ""));
      assertTrue(e.seen().contains(" " + length + " "), e.seen());
    }
    assertEquals(8, new PasswordRecipe(8, "").make("x").length());
    assertEquals(128, new PasswordRecipe(128, "").make("x").length());
    String allButTen = PasswordRecipe.ALPHABET.substring(10);
    assertEquals(26, new PasswordRecipe(26, allButTen).make("x").length());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> new PasswordRecipe(26, PasswordRecipe.ALPHABET.substring(9)));
    assertTrue(e.seen().contains("Only 9 "), e.seen());
  }

  @Test
  void aSecretOutsideOfAsciiIsAlsoSpelledAsOtherProgramsDo() {
    assertEquals(1, secret("plain ~").spellings().size());
    Secret secret = secret("gehéim");
    assertFalse(secret.isAscii());
    assertFalse(secret("tab\t").isAscii());
    List<Secret> spellings = secret.spellings();
    assertEquals(2, spellings.size());
    assertArrayEquals("gehéim".getBytes(StandardCharsets.UTF_8), spellings.get(0).revealUtf8());
    assertArrayEquals(
        "gehéim".getBytes(StandardCharsets.ISO_8859_1), spellings.get(1).revealUtf8());
    assertArrayEquals(
        "gehéim\0".getBytes(StandardCharsets.UTF_16BE), spellings.get(0).terminatedBmp());
    assertArrayEquals(
        "geh\u00c3\u00a9im\0".getBytes(StandardCharsets.UTF_16BE),
        spellings.get(1).terminatedBmp());
    // What Latin-1 does not have stays as it is.
    Secret wide = secret("日本").spellings().get(1);
    assertArrayEquals("日本".getBytes(StandardCharsets.UTF_8), wide.revealUtf8());
    secret.close();
    assertThrows(IllegalStateException.class, () -> spellings.get(1).reveal());
    assertThrows(IllegalStateException.class, () -> spellings.get(1).terminatedBmp());
  }

  @Test
  void secretsAreComparedByTheirCharacters() {
    assertTrue(secret("geheim").isSameAs(Secret.of("geheim".toCharArray(), "env=OTHER")));
    assertFalse(secret("geheim").isSameAs(secret("geheim ")));
    assertFalse(secret("geheim").isSameAs(Secret.empty()));
    assertTrue(Secret.empty().isEmpty());
    assertFalse(secret("x").isEmpty());
  }

  @Test
  void theCharactersGivenAreCopiedAndWipedWhenClosed() {
    char[] mine = "geheim".toCharArray();
    Secret secret = Secret.of(mine, "x");
    Arrays.fill(mine, '\0');
    char[] revealed = secret.reveal();
    assertArrayEquals("geheim".toCharArray(), revealed);
    Arrays.fill(revealed, '\0');
    assertArrayEquals("geheim".toCharArray(), secret.reveal());
    secret.close();
    assertThrows(IllegalStateException.class, secret::revealUtf8);
    assertThrows(IllegalStateException.class, secret::isAscii);
    assertEquals(6, secret.length(), "only the characters are gone");
  }
}
