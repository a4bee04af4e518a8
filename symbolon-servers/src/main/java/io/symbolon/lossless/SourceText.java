// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.regex.Pattern;

/**
 * The text of a settings file, and how it becomes octets again: the same octets where nothing was
 * changed, and otherwise the same encoding, mark at the beginning and line ends.
 *
 * <p>The encoding is told from a byte order mark; without one it is UTF-8 where the octets are
 * that, and ISO 8859-1 otherwise, which has a character for every octet.
 */
public final class SourceText {
  private static final Pattern TWO_BLANKS = Pattern.compile("(?m)^ {2}[^ \r\n]");
  private static final byte[] UTF_8_MARK = {(byte) 0xef, (byte) 0xbb, (byte) 0xbf};

  private final Path path;
  private final String text;
  private final Charset charset;
  private final byte[] mark;

  private SourceText(Path path, String text, Charset charset, byte[] mark) {
    this.path = path;
    this.text = text;
    this.charset = charset;
    this.mark = mark;
  }

  /**
   * {@return the text of a file}
   *
   * @param path where it is; for messages
   * @param octets its content
   */
  public static SourceText of(Path path, byte[] octets) {
    if (startsWith(octets, UTF_8_MARK)) {
      return decoded(path, octets, StandardCharsets.UTF_8, UTF_8_MARK);
    }
    if (octets.length >= 2 && octets[0] == (byte) 0xfe && octets[1] == (byte) 0xff) {
      return decoded(path, octets, StandardCharsets.UTF_16BE, Arrays.copyOf(octets, 2));
    }
    if (octets.length >= 2 && octets[0] == (byte) 0xff && octets[1] == (byte) 0xfe) {
      return decoded(path, octets, StandardCharsets.UTF_16LE, Arrays.copyOf(octets, 2));
    }
    return decoded(path, octets, StandardCharsets.UTF_8, new byte[0]);
  }

  /**
   * {@return the text of a file in an encoding that is known}
   *
   * @param path where it is; for messages
   * @param octets its content
   * @param charset its encoding; where its octets are none of that, it is told as usual
   */
  public static SourceText of(Path path, byte[] octets, Charset charset) {
    return decoded(path, octets, charset, new byte[0]);
  }

  private static SourceText decoded(Path path, byte[] octets, Charset charset, byte[] mark) {
    try {
      String text =
          charset
              .newDecoder()
              .onMalformedInput(CodingErrorAction.REPORT)
              .onUnmappableCharacter(CodingErrorAction.REPORT)
              .decode(ByteBuffer.wrap(octets, mark.length, octets.length - mark.length))
              .toString();
      return new SourceText(path, text, charset, mark);
    } catch (CharacterCodingException e) {
      return new SourceText(
          path,
          new String(octets, StandardCharsets.ISO_8859_1),
          StandardCharsets.ISO_8859_1,
          new byte[0]);
    }
  }

  private static boolean startsWith(byte[] octets, byte[] start) {
    return octets.length >= start.length
        && Arrays.equals(octets, 0, start.length, start, 0, start.length);
  }

  /** {@return where the file is} */
  public Path path() {
    return path;
  }

  /** {@return the text, line ends as they are, without a byte order mark} */
  public String text() {
    return text;
  }

  /** {@return how characters are written as octets} */
  public Charset charset() {
    return charset;
  }

  /** {@return the line end of most lines: {@code \n} or {@code \r\n}} */
  public String lineEnd() {
    int all = 0;
    int windows = 0;
    for (int at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) {
      all++;
      windows += at > 0 && text.charAt(at - 1) == '\r' ? 1 : 0;
    }
    return windows * 2 > all ? "\r\n" : "\n";
  }

  /**
   * {@return the number of the line of a position, from 1}
   *
   * @param at the position, in characters
   */
  public int line(int at) {
    int line = 1;
    for (int i = 0; i < at && i < text.length(); i++) {
      line += text.charAt(i) == '\n' ? 1 : 0;
    }
    return line;
  }

  /**
   * {@return the number of the column of a position, from 1}
   *
   * @param at the position, in characters
   */
  public int column(int at) {
    return at - lineStart(at) + 1;
  }

  /**
   * {@return where the line of a position begins}
   *
   * @param at the position, in characters
   */
  public int lineStart(int at) {
    return at == 0 ? 0 : text.lastIndexOf('\n', at - 1) + 1;
  }

  /**
   * {@return the blanks at the beginning of the line of a position}
   *
   * @param at the position, in characters
   */
  public String indentation(int at) {
    int start = lineStart(at);
    int end = start;
    while (end < text.length() && (text.charAt(end) == ' ' || text.charAt(end) == '\t')) {
      end++;
    }
    return text.substring(start, end);
  }

  /** {@return one step of indentation, as the file has it: a tab, or blanks} */
  public String step() {
    return text.contains("\n\t") ? "\t" : TWO_BLANKS.matcher(text).find() ? "  " : "    ";
  }

  /**
   * {@return another text as octets of this file}
   *
   * @param changed the text
   * @throws SymbolonException if the file's encoding has no octets for one of its characters
   */
  public byte[] encode(String changed) {
    try {
      ByteBuffer octets =
          charset
              .newEncoder()
              .onMalformedInput(CodingErrorAction.REPORT)
              .onUnmappableCharacter(CodingErrorAction.REPORT)
              .encode(CharBuffer.wrap(changed));
      byte[] all = Arrays.copyOf(mark, mark.length + octets.remaining());
      octets.get(all, mark.length, octets.remaining());
      return all;
    } catch (CharacterCodingException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file " + VisibleText.of(path.toString()) + " was not changed.",
          "It is written in " + charset.name() + ", which lacks a character of the new settings.",
          "Use paths and passwords of plain letters, or save the file as UTF-8 first.",
          e);
    }
  }

  /**
   * {@return the failure to read this file as what it should be}
   *
   * @param at the position, in characters
   * @param seen what was seen there, as a sentence
   */
  public SymbolonException malformed(int at, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The file " + VisibleText.of(path.toString()) + " can't be read. Nothing was changed.",
        "Line " + line(at) + ", column " + column(at) + ": " + seen,
        "Mend the file there, and give the command again.");
  }
}
