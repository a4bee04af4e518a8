// SPDX-License-Identifier: Apache-2.0
package io.symbolon.seal;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * A password. Its text form shows nothing, and it is wiped when closed; it is never a {@code
 * String}. Thread-safe until it is closed.
 */
public final class Secret implements AutoCloseable {
  private final char[] characters;
  private final String source;
  private final Optional<Secret> spelledHere; // the secret this is another spelling of
  private final DerivedKeys derived; // of both spellings, wiped with the original
  private volatile boolean closed;

  private Secret(char[] characters, String source, Optional<Secret> spelledHere) {
    this.characters = characters;
    this.source = source;
    this.spelledHere = spelledHere;
    this.derived = spelledHere.map(original -> original.derived).orElseGet(DerivedKeys::new);
  }

  /**
   * {@return a secret with these characters, which are copied; the caller wipes its own}
   *
   * @param characters the password; none at all is the empty password
   * @param source where it came from, to be named in messages, such as {@code file=pass.txt}
   * @throws SymbolonException if it is longer than {@link Limits#PASSWORD_CHARS}
   */
  public static Secret of(char[] characters, String source) {
    if (characters.length > Limits.PASSWORD_CHARS) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "The password from " + source + " can't be used.",
          "It has "
              + characters.length
              + " characters; at most "
              + Limits.PASSWORD_CHARS
              + " are taken.",
          "Check that this is the password and not another file.");
    }
    return new Secret(characters.clone(), source, Optional.empty());
  }

  /**
   * {@return a new strong password of 26 letters and digits, none of which look alike: about 150
   * bits}
   *
   * @param source what to call where it comes from
   */
  public static Secret random(String source) {
    return PasswordRecipe.USUAL.make(source);
  }

  /** {@return the empty password} */
  public static Secret empty() {
    return new Secret(new char[0], "empty", Optional.empty());
  }

  /** {@return where it came from, to be named in messages} */
  public String source() {
    return source;
  }

  /** {@return whether it has no characters} */
  public boolean isEmpty() {
    return characters.length == 0;
  }

  /** {@return the number of characters} */
  public int length() {
    return characters.length;
  }

  /**
   * {@return the characters themselves, for handing to the platform: a copy, which the caller
   * wipes}
   *
   * @throws IllegalStateException if this secret was closed
   */
  public char[] reveal() {
    if (closed || spelledHere.filter(original -> original.closed).isPresent()) {
      throw new IllegalStateException("this secret was wiped");
    }
    return characters.clone();
  }

  /**
   * {@return whether another secret has the same characters}
   *
   * @param other another one
   */
  public boolean isSameAs(Secret other) {
    byte[] mine = revealUtf8();
    byte[] theirs = other.revealUtf8();
    boolean same = java.security.MessageDigest.isEqual(mine, theirs);
    Arrays.fill(mine, (byte) 0);
    Arrays.fill(theirs, (byte) 0);
    return same;
  }

  /**
   * {@return whether every character is one of printable ASCII, which every program spells alike}
   */
  public boolean isAscii() {
    char[] revealed = reveal();
    boolean ascii = true;
    for (char c : revealed) {
      ascii &= c >= 0x20 && c <= 0x7E;
    }
    Arrays.fill(revealed, '\0');
    return ascii;
  }

  /**
   * This secret and, where it is not ASCII, as programs that do not follow the standards spell it:
   * in Latin-1 where octets are wanted, and as the octets of UTF-8 where characters are. For
   * opening what such programs sealed; the other spelling ends with this secret.
   *
   * @return them
   */
  public List<Secret> spellings() {
    return isAscii()
        ? List.of(this)
        : List.of(this, new Secret(characters, source, Optional.of(spelledHere.orElse(this))));
  }

  /**
   * {@return the characters in UTF-8, as PBKDF2 takes them (RFC 8018, 3): a copy, which the caller
   * wipes}
   */
  public byte[] revealUtf8() {
    char[] revealed = reveal();
    if (spelledHere.isPresent() && isLatin1(revealed)) {
      byte[] bytes = new byte[revealed.length];
      for (int i = 0; i < bytes.length; i++) {
        bytes[i] = (byte) revealed[i];
      }
      Arrays.fill(revealed, '\0');
      return bytes;
    }
    return utf8(revealed);
  }

  private static boolean isLatin1(char[] revealed) {
    boolean latin = true;
    for (char c : revealed) {
      latin &= c <= 0xFF;
    }
    return latin;
  }

  private static byte[] utf8(char[] revealed) {
    ByteBuffer buffer = ByteBuffer.allocate(3 * revealed.length); // no character takes more
    StandardCharsets.UTF_8
        .newEncoder()
        .onMalformedInput(CodingErrorAction.REPLACE)
        .encode(CharBuffer.wrap(revealed), buffer, true);
    byte[] bytes = Arrays.copyOf(buffer.array(), buffer.position());
    Arrays.fill(buffer.array(), (byte) 0);
    Arrays.fill(revealed, '\0');
    return bytes;
  }

  /** The characters as a BMPString that ends in two zero octets (RFC 7292, B.1). */
  byte[] terminatedBmp() {
    char[] revealed = reveal();
    if (spelledHere.isPresent()) {
      byte[] octets = utf8(revealed);
      revealed = new char[octets.length];
      for (int i = 0; i < octets.length; i++) {
        revealed[i] = (char) (octets[i] & 0xFF);
      }
      Arrays.fill(octets, (byte) 0);
    }
    byte[] bytes = new byte[2 * revealed.length + 2];
    for (int i = 0; i < revealed.length; i++) {
      bytes[2 * i] = (byte) (revealed[i] >>> 8);
      bytes[2 * i + 1] = (byte) revealed[i];
    }
    Arrays.fill(revealed, '\0');
    return bytes;
  }

  /** A key that is derived from it, once; a copy that the caller wipes. */
  byte[] derived(String function, byte[] salt, int rounds, int length, Supplier<byte[]> derive) {
    String spelled = spelledHere.isPresent() ? "spelled otherwise, " + function : function;
    return derived.derived(spelled, salt, rounds, length, derive);
  }

  @Override
  public void close() {
    closed = true;
    derived.wipe();
    // Another spelling shares the characters, so that wiping them here wipes them there.
    Arrays.fill(characters, '\0');
  }

  /** Shows where the secret came from and nothing of it. */
  @Override
  public String toString() {
    return "Secret(" + source + ")";
  }
}
