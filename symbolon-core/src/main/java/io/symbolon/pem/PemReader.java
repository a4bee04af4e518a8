package io.symbolon.pem;

import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.der.Element;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Reads the blocks of a text (RFC 7468).
 *
 * <p>One pass over the lines. Outside of a block everything but a boundary is explanation and
 * passed over. Inside, white space is dropped, header lines (RFC 1421) are collected, and what
 * remains must be Base64; a character that is not is a flaw that loses the block, because guessing
 * at a key would be worse. What mail and editors do and whose meaning stays certain is read and
 * reported: dashes for hyphens, blocks glued together on a line, a closing line that is missing
 * although the content is whole. Time and memory are linear in the text.
 */
public final class PemReader {
  private static final int BINARY_LOOK = 8192; // octets in which a text has no zero

  private final byte[] text;
  private final boolean binary;
  private final List<PemBlock> blocks = new ArrayList<>();
  private final List<PemFlaw> flaws = new ArrayList<>();

  // The block that is open, if any.
  private boolean open;
  private String label = "";
  private int openedOn;
  private Map<String, String> headers = new LinkedHashMap<>();
  private boolean headersOver;
  private String lastHeader = "";
  private byte[] base64 = new byte[4096];
  private int count;
  private int badLine;
  private String badText = "";

  private PemReader(byte[] text) {
    this.text = text;
    boolean zero = false;
    for (int i = 0; i < text.length && i < BINARY_LOOK && !zero; i++) {
      zero = text[i] == 0;
    }
    this.binary = zero;
  }

  /** What a text holds: blocks and flaws. A text that has nothing to do with PEM gives neither. */
  public static PemText read(byte[] text) {
    return new PemReader(TextBytes.plain(text)).read();
  }

  private PemText read() {
    int at = 0;
    int line = 0;
    while (at < text.length) {
      line++;
      int end = at;
      while (end < text.length && text[end] != '\n' && text[end] != '\r') {
        end++;
      }
      line(at, end, line);
      at = end + 1;
      if (end < text.length && text[end] == '\r' && at < text.length && text[at] == '\n') {
        at++;
      }
    }
    if (open) {
      closeWithoutEnd(line, "The text ends before the line that closes the block.");
    }
    Arrays.fill(base64, (byte) 0); // a private key may have passed through
    return new PemText(blocks, flaws);
  }

  private void line(int from, int to, int line) {
    int at = from;
    while (at < to) {
      Optional<Boundary> found =
          mayHoldBoundary(at, to) ? Boundary.find(text, at, to) : Optional.empty();
      if (found.isEmpty()) {
        if (open) {
          content(at, to, line);
        }
        return;
      }
      Boundary boundary = found.get();
      if (boundary.label().startsWith("PGP ")) {
        at = boundary.to(); // another format with boundaries that look the same (RFC 9580, 6.2)
        continue;
      }
      if (boundary.begin() && isMention(boundary.to(), to)) {
        flaws.add(
            new PemFlaw(
                line,
                PemFlaw.Kind.MENDED,
                "A boundary is only mentioned here, as in a program's source; it was passed over."));
        at = boundary.to();
        continue;
      }
      if (open && boundary.from() > at) {
        content(at, boundary.from(), line);
      }
      if (boundary.mangled()) {
        flaws.add(
            new PemFlaw(
                line,
                PemFlaw.Kind.MENDED,
                "The hyphens of a boundary line were changed, as a word processor does."));
      }
      if (boundary.begin()) {
        begin(boundary.label(), line);
      } else {
        end(boundary, at, line);
      }
      at = boundary.to();
    }
  }

  /** Whether something follows a boundary that no block goes on with, such as a quotation mark. */
  private boolean isMention(int next, int to) {
    return next < to
        && !isSpace(text[next])
        && !isBase64(text[next])
        && text[next] != '-'
        && !isEscape(next, to);
  }

  /** A line break written as an escape, as in a JSON string that holds a whole file. */
  private boolean isEscape(int at, int to) {
    return text[at] == '\\' && at + 1 < to && (text[at + 1] == 'n' || text[at + 1] == 'r');
  }

  /** A quick look: a line of nothing but Base64 can't hold a boundary. */
  private boolean mayHoldBoundary(int from, int to) {
    for (int i = from; i < to; i++) {
      byte c = text[i];
      if (c == '-' || c < 0) {
        return true;
      }
    }
    return false;
  }

  private void begin(String newLabel, int line) {
    if (open) {
      closeWithoutEnd(line, "Another block begins before this one is closed.");
    }
    open = true;
    label = newLabel;
    openedOn = line;
    headers = new LinkedHashMap<>();
    headersOver = false;
    lastHeader = "";
    count = 0;
    badLine = 0;
  }

  private void end(Boundary boundary, int lineStart, int line) {
    String endLabel = boundary.label();
    if (!open) {
      boolean alone = true;
      for (int i = lineStart; i < boundary.from(); i++) {
        alone &= isSpace(text[i]);
      }
      if (alone && !binary) {
        flaws.add(
            new PemFlaw(
                line,
                PemFlaw.Kind.LOST,
                "A block named " + VisibleText.of(endLabel) + " is closed here that never began."));
      }
      return;
    }
    if (!endLabel.equals(label)) {
      flaws.add(
          new PemFlaw(
              line,
              PemFlaw.Kind.MENDED,
              "The block begins as "
                  + VisibleText.of(label)
                  + " and ends as "
                  + VisibleText.of(endLabel)
                  + "."));
    }
    finish();
  }

  private void finish() {
    open = false;
    if (badLine > 0) {
      lost(badLine, "A character does not belong into Base64: " + badText + ".");
      return;
    }
    Optional<byte[]> content = decoded();
    if (content.isEmpty()) {
      lost(openedOn, "Its Base64 can't be decoded: characters are missing or too many.");
    } else if (content.get().length == 0) {
      lost(openedOn, "There is nothing between its boundary lines.");
    } else {
      blocks.add(new PemBlock(label, Map.copyOf(headers), content.get(), openedOn));
    }
  }

  /** A block without its last line is read only where its content proves that it is whole. */
  private void closeWithoutEnd(int line, String why) {
    open = false;
    Optional<byte[]> content = badLine > 0 ? Optional.empty() : decoded();
    if (content.isPresent() && content.get().length > 0 && isWhole(content.get())) {
      flaws.add(
          new PemFlaw(line, PemFlaw.Kind.MENDED, why + " Its content is complete all the same."));
      blocks.add(new PemBlock(label, Map.copyOf(headers), content.get(), openedOn));
    } else {
      lost(openedOn, why + " It was cut off.");
    }
  }

  private static boolean isWhole(byte[] content) {
    try {
      return Element.read(content).endOffset() == content.length;
    } catch (SymbolonException e) {
      return false;
    }
  }

  private void lost(int line, String why) {
    if (binary) {
      return; // a program that mentions boundaries, not a text that was damaged
    }
    flaws.add(
        new PemFlaw(
            line,
            PemFlaw.Kind.LOST,
            "The block "
                + VisibleText.of(label)
                + " that begins on line "
                + openedOn
                + " can't be read. "
                + why));
  }

  private Optional<byte[]> decoded() {
    int length = count;
    while (length > 0 && base64[length - 1] == '=' && count - length < 2) {
      length--;
    }
    if (length % 4 == 1) {
      return Optional.empty();
    }
    byte[] characters = Arrays.copyOf(base64, length);
    try {
      return Optional.of(Base64.getDecoder().decode(characters));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(characters, (byte) 0);
    }
  }

  private void content(int from, int to, int line) {
    int end = to;
    while (end > from && isSpace(text[end - 1])) {
      end--;
    }
    if (!headersOver && header(from, end)) {
      return;
    }
    if (base64.length - count < end - from) {
      byte[] larger = Arrays.copyOf(base64, Math.max(base64.length * 2, count + end - from));
      Arrays.fill(base64, (byte) 0);
      base64 = larger;
    }
    for (int i = from; i < end; i++) {
      byte c = text[i];
      if (isBase64(c)) {
        base64[count++] = c;
      } else if (isEscape(i, end)) {
        i++;
      } else if (!isSpace(c) && badLine == 0) {
        badLine = line;
        badText = "'" + VisibleText.of(characterAt(i, end)) + "'";
      }
    }
    headersOver |= end > from;
  }

  private String characterAt(int at, int end) {
    int to = at + 1;
    while (to < end && to < at + 4 && (text[to] & 0xC0) == 0x80) {
      to++;
    }
    return new String(text, at, to - at, StandardCharsets.UTF_8);
  }

  /** Collects an RFC 1421 header line or the continuation of one. */
  private boolean header(int from, int end) {
    boolean continued = from < end && isSpace(text[from]) && !lastHeader.isEmpty();
    int colon = from;
    while (colon < end && text[colon] != ':') {
      colon++;
    }
    if (colon == end && !continued) {
      return false;
    }
    String line = new String(text, from, end - from, StandardCharsets.ISO_8859_1);
    if (continued) {
      headers.merge(lastHeader, line.strip(), String::concat);
    } else {
      lastHeader = line.substring(0, colon - from).strip();
      headers.put(lastHeader, line.substring(colon - from + 1).strip());
    }
    return true;
  }

  private static boolean isSpace(byte c) {
    return c == ' ' || c == '\t' || c == 0x0B || c == 0x0C;
  }

  private static boolean isBase64(byte c) {
    return (c >= 'A' && c <= 'Z')
        || (c >= 'a' && c <= 'z')
        || (c >= '0' && c <= '9')
        || c == '+'
        || c == '/'
        || c == '=';
  }
}
