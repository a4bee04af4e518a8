package io.symbolon.seal;

import io.symbolon.Limits;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * A password. Its text form shows nothing, and it is wiped when closed; it is never a {@code
 * String}. Thread-safe until it is closed.
 */
public final class Secret implements AutoCloseable {
  private final char[] characters;
  private final String source;
  private volatile boolean closed;

  private Secret(char[] characters, String source) {
    this.characters = characters;
    this.source = source;
  }

  /**
   * A secret with these characters, which are copied; the caller wipes its own.
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
    return new Secret(characters.clone(), source);
  }

  /** The empty password. */
  public static Secret empty() {
    return new Secret(new char[0], "empty");
  }

  /** Where it came from, to be named in messages. */
  public String source() {
    return source;
  }

  /** Whether it has no characters. */
  public boolean isEmpty() {
    return characters.length == 0;
  }

  /** The number of characters. */
  public int length() {
    return characters.length;
  }

  /**
   * The characters themselves, for handing to the platform: a copy, which the caller wipes.
   *
   * @throws IllegalStateException if this secret was closed
   */
  public char[] reveal() {
    if (closed) {
      throw new IllegalStateException("this secret was wiped");
    }
    return characters.clone();
  }

  /** The characters in UTF-8, as PBKDF2 takes them: a copy, which the caller wipes. */
  public byte[] revealUtf8() {
    char[] revealed = reveal();
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
    byte[] bytes = new byte[2 * revealed.length + 2];
    for (int i = 0; i < revealed.length; i++) {
      bytes[2 * i] = (byte) (revealed[i] >>> 8);
      bytes[2 * i + 1] = (byte) revealed[i];
    }
    Arrays.fill(revealed, '\0');
    return bytes;
  }

  @Override
  public void close() {
    closed = true;
    Arrays.fill(characters, '\0');
  }

  /** Shows where the secret came from and nothing of it. */
  @Override
  public String toString() {
    return "Secret(" + source + ")";
  }
}
