// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import io.symbolon.limit.Limits;
import io.symbolon.pem.TextHabits.Habit;
import io.symbolon.text.VisibleText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
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
 * reported: marks and encodings of text, indentation, quoting, dashes for hyphens, blocks glued
 * together on a line, what mail has encoded once more, a first or last line that is missing
 * although the content is whole. Time and memory are linear in the text.
 */
public final class PemReader {
  private static final int BINARY_LOOK = 8192; // octets in which a text has no zero
  private static final byte[] FRIENDLY_NAME = "friendlyName:".getBytes(StandardCharsets.US_ASCII);

  private final byte[] text;
  private final boolean binary;
  private final List<PemBlock> blocks = new ArrayList<>();
  private final List<PemFlaw> flaws = new ArrayList<>();
  private final TextHabits habits = new TextHabits();
  private Optional<String> name = Optional.empty(); // told for the block that follows
  private int lastBlockEnd; // where the line behind the last boundary begins

  // The block that is open, if any.
  private boolean open;
  private String label = "";
  private Optional<String> blockName = Optional.empty();
  private int openedOn;
  private Map<String, String> headers = new LinkedHashMap<>();
  private boolean headersOver;
  private String lastHeader = "";
  private final Base64Text base64 = new Base64Text();
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
  public static PemContent read(byte[] text) {
    return new PemReader(TextBytes.plain(text)).read(TextBytes.flaw(text));
  }

  private PemContent read(Optional<String> encoding) {
    int at = 0;
    int line = 0;
    while (at < text.length) {
      line++;
      int end = at;
      while (end < text.length && text[end] != '\n' && text[end] != '\r') {
        end++;
      }
      boolean windows = end + 1 < text.length && text[end] == '\r' && text[end + 1] == '\n';
      if (windows) {
        habits.see(Habit.WINDOWS_LINES, line);
      }
      line(at, end, line);
      at = end + (windows ? 2 : 1);
    }
    if (open) {
      closeWithoutEnd(line, "The text ends before the line that closes the block.");
    }
    base64.wipe();
    if (!blocks.isEmpty()) {
      encoding.ifPresent(seen -> flaw(new PemFlaw(1, PemFlaw.Type.MENDED, seen)));
      flaws.addAll(habits.flaws());
      flaws.sort(Comparator.comparingInt(PemFlaw::line));
    } else {
      habits.first(Habit.COMMENTED).ifPresent(flaws::add);
    }
    return new PemContent(blocks, flaws);
  }

  private void line(int from, int to, int line) {
    int at = from;
    while (at < to) {
      Optional<Boundary> found =
          mayHoldBoundary(at, to) ? Boundary.find(text, at, to) : Optional.empty();
      if (found.isEmpty()) {
        rest(at, to, line, at == from);
        return;
      }
      Boundary boundary = found.get();
      if (boundary.label().startsWith("PGP ")) {
        at = boundary.to(); // another format with boundaries that look the same (RFC 9580, 6.2)
        continue;
      }
      if (boundary.begin() && isMention(boundary.to(), to)) {
        flaw(
            new PemFlaw(
                line,
                PemFlaw.Type.MENDED,
                "A boundary is only mentioned here, as in a program's source; it was passed over."));
        at = boundary.to();
        continue;
      }
      if (!open && isCommentedOut(at, boundary.from())) {
        habits.see(Habit.COMMENTED, line);
        return;
      }
      if (open && boundary.from() > at) {
        content(at, boundary.from(), line, at == from);
      }
      boolean leads = at == from && isQuoteOrSpace(from, boundary.from());
      boundary(boundary, from, to, line, leads);
      at = boundary.to();
    }
  }

  /** A boundary; {@code leads} says whether nothing stands in front of it in its line. */
  private void boundary(Boundary boundary, int lineStart, int lineEnd, int line, boolean leads) {
    if (boundary.mangled()) {
      flaw(
          new PemFlaw(
              line,
              PemFlaw.Type.MENDED,
              "The hyphens of a boundary line were changed, as a word processor does."));
    }
    boolean alone = leads && isSpace(boundary.to(), lineEnd);
    if (!alone && !isEscapeAround(boundary, lineStart, lineEnd)) {
      habits.see(Habit.GLUED, line);
    }
    if (boundary.begin()) {
      begin(boundary.label(), line);
    } else {
      end(boundary, lineStart, line, leads);
      lastBlockEnd = lineEnd;
    }
  }

  private boolean isEscapeAround(Boundary boundary, int lineStart, int lineEnd) {
    return (boundary.to() < lineEnd && Characters.isEscape(text, boundary.to(), lineEnd))
        || (boundary.from() - 2 >= lineStart
            && Characters.isEscape(text, boundary.from() - 2, lineEnd));
  }

  private boolean isSpace(int from, int to) {
    for (int i = from; i < to; i++) {
      if (!Characters.isSpace(text[i])) {
        return false;
      }
    }
    return true;
  }

  private boolean isQuoteOrSpace(int from, int to) {
    int at = from;
    while (at < to && (Characters.isSpace(text[at]) || text[at] == '>')) {
      at++;
    }
    return at == to;
  }

  /** Whether a line begins as a comment does, before anything else. */
  private boolean isCommentedOut(int from, int to) {
    int at = from;
    while (at < to && (Characters.isSpace(text[at]) || text[at] == '>')) {
      at++;
    }
    return at < to && (text[at] == '#' || text[at] == ';');
  }

  /** What a line holds behind its last boundary. */
  private void rest(int from, int to, int line, boolean whole) {
    if (open) {
      content(from, to, line, whole);
      if (whole) {
        base64.endOfLine();
      }
    } else if (!isQuoteOrSpace(from, to) && !binary) {
      habits.see(Habit.OTHER_TEXT, line);
      friendlyName(from, to);
    }
  }

  /** Some programs write the name that an entry had in a keystore in front of its block. */
  private void friendlyName(int from, int to) {
    int at = from;
    while (at < to && Characters.isSpace(text[at])) {
      at++;
    }
    int end = at + FRIENDLY_NAME.length;
    if (end < to
        && to - end < Limits.PEM_NAME_LINE
        && java.util.Arrays.equals(text, at, end, FRIENDLY_NAME, 0, FRIENDLY_NAME.length)) {
      name =
          Optional.of(new String(text, end, to - end, StandardCharsets.UTF_8).strip())
              .filter(told -> !told.isEmpty());
    }
  }

  /** Whether something follows a boundary that no block goes on with, such as a quotation mark. */
  private boolean isMention(int next, int to) {
    return next < to
        && !Characters.isSpace(text[next])
        && !Characters.isBase64(text[next])
        && text[next] != '-'
        && !Characters.isEscape(text, next, to);
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
    blockName = name;
    name = Optional.empty();
    openedOn = line;
    headers = new LinkedHashMap<>();
    headersOver = false;
    lastHeader = "";
    base64.clear();
    badLine = 0;
  }

  private void end(Boundary boundary, int lineStart, int line, boolean leads) {
    String endLabel = boundary.label();
    if (!open) {
      if (leads && !binary) {
        withoutBegin(endLabel, lineStart, line);
      }
      return;
    }
    if (!endLabel.equals(label)) {
      flaw(
          new PemFlaw(
              line,
              PemFlaw.Type.MENDED,
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
    Optional<byte[]> content = base64.decoded();
    if (content.isEmpty()) {
      content = base64.unquoted();
      if (content.isPresent()) {
        flaw(
            new PemFlaw(
                openedOn,
                PemFlaw.Type.MENDED,
                "Mail has encoded the block once more (quoted-printable): =3D stands for an equals"
                    + " sign, or lines are folded."));
      }
    }
    if (content.isEmpty()) {
      lost(openedOn, "Its Base64 can't be decoded: characters are missing or too many.");
    } else if (content.get().length == 0) {
      lost(openedOn, "There is nothing between its boundary lines.");
    } else {
      add(content.get());
    }
  }

  private void add(byte[] content) {
    blocks.add(new PemBlock(label, Map.copyOf(headers), blockName, content, openedOn));
  }

  /** A block without its last line is read only where its content proves that it is whole. */
  private void closeWithoutEnd(int line, String why) {
    open = false;
    Optional<byte[]> content =
        badLine > 0 ? Optional.empty() : base64.decoded().filter(Base64Text::isWhole);
    if (content.isPresent()) {
      flaw(new PemFlaw(line, PemFlaw.Type.MENDED, why + " Its content is complete all the same."));
      add(content.get());
    } else {
      lost(openedOn, why + " It was cut off.");
    }
  }

  /** So is a block without its first line: the lines of Base64 in front of the last are tried. */
  private void withoutBegin(String endLabel, int lineStart, int line) {
    int from = lineStart;
    int lines = 0;
    int length = 0;
    while (from > lastBlockEnd) {
      int end = from - 1;
      while (end > lastBlockEnd && (text[end - 1] == '\n' || text[end - 1] == '\r')) {
        end--;
      }
      int start = end;
      while (start > lastBlockEnd && text[start - 1] != '\n' && text[start - 1] != '\r') {
        start--;
      }
      // All lines but the last are of one length; a word above them that looks alike is not.
      boolean sameLength = lines < 2 || end - start == length;
      if (start >= end || !sameLength || !isBase64OrSpace(start, end)) {
        break;
      }
      length = end - start;
      from = start;
      lines++;
    }
    base64.clear();
    for (int i = from; i < lineStart; i++) {
      if (Characters.isBase64(text[i])) {
        base64.add(text[i]);
      }
    }
    Optional<byte[]> content = base64.decoded().filter(Base64Text::isWhole);
    if (content.isEmpty()) {
      flaw(
          new PemFlaw(
              line,
              PemFlaw.Type.LOST,
              "A block named " + VisibleText.of(endLabel) + " is closed here that never began."));
      return;
    }
    label = endLabel;
    blockName = Optional.empty();
    headers = new LinkedHashMap<>();
    openedOn = Math.max(1, line - lines);
    flaw(
        new PemFlaw(
            openedOn,
            PemFlaw.Type.MENDED,
            "The line that opens the block is missing. Its content is complete all the same."));
    add(content.get());
  }

  private boolean isBase64OrSpace(int from, int to) {
    for (int i = from; i < to; i++) {
      if (!Characters.isBase64(text[i]) && !Characters.isSpace(text[i])) {
        return false;
      }
    }
    return true;
  }

  private void flaw(PemFlaw flaw) {
    if (flaws.size() < Limits.PEM_FLAWS) {
      flaws.add(flaw);
    } else if (flaws.size() == Limits.PEM_FLAWS) {
      flaws.add(
          new PemFlaw(
              flaw.line(), PemFlaw.Type.LOST, "From here on more is wrong, which is not listed."));
    }
  }

  private void lost(int line, String why) {
    if (binary) {
      return; // a program that mentions boundaries, not a text that was damaged
    }
    flaw(
        new PemFlaw(
            line,
            PemFlaw.Type.LOST,
            "The block "
                + VisibleText.of(label)
                + " that begins on line "
                + openedOn
                + " can't be read. "
                + why));
  }

  private void content(int from, int to, int line, boolean startsLine) {
    int end = to;
    while (end > from && Characters.isSpace(text[end - 1])) {
      end--;
    }
    if (!headersOver && header(from, end)) {
      return;
    }
    int at = from;
    if (startsLine && end > from) {
      at = indentation(from, end, line);
    }
    for (int i = at; i < end; i++) {
      byte c = text[i];
      if (Characters.isBase64(c)) {
        base64.add(c);
      } else if (Characters.isEscape(text, i, end)) {
        habits.see(Habit.ESCAPED, line);
        i++;
      } else if (!Characters.isSpace(c) && badLine == 0) {
        badLine = line;
        badText = "'" + VisibleText.of(characterAt(i, end)) + "'";
      }
    }
    headersOver |= end > from;
  }

  /** Passes over spaces and the marks of a quoted mail at the beginning of a line. */
  private int indentation(int from, int end, int line) {
    int at = from;
    while (at < end && (Characters.isSpace(text[at]) || text[at] == '>')) {
      habits.see(text[at] == '>' ? Habit.QUOTED : Habit.INDENTED, line);
      at++;
    }
    return at;
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
    boolean continued = from < end && Characters.isSpace(text[from]) && !lastHeader.isEmpty();
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
      lastHeader = line.substring(0, colon - from).replaceFirst("^[ \t>]+", "").strip();
      headers.put(lastHeader, line.substring(colon - from + 1).strip());
    }
    return true;
  }
}
