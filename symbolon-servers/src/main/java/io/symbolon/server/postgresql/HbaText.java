// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.lossless.Directive;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * The lines of pg_hba.conf and of pg_ident.conf: words between blanks, some in double quotes, a
 * comment behind {@code #}; a backslash at its end continues a line. The first line that fits a
 * connection decides. A directive's name is the kind of connection.
 */
final class HbaText {
  private HbaText() {}

  static List<Directive> read(SourceText source) {
    List<Directive> lines = new ArrayList<>();
    String text = source.text();
    int start = 0;
    while (start < text.length()) {
      int stop = end(text, start);
      while (stop < text.length() && isContinued(text, start, stop)) {
        stop = end(text, stop + 1);
      }
      line(source, start, stop).ifPresent(lines::add);
      start = stop + 1;
    }
    return lines;
  }

  private static int end(String text, int from) {
    int end = text.indexOf('\n', from);
    return end < 0 ? text.length() : end;
  }

  private static boolean isContinued(String text, int start, int end) {
    int last = end > start && text.charAt(end - 1) == '\r' ? end - 2 : end - 1;
    return last >= start && text.charAt(last) == '\\';
  }

  private static Optional<Directive> line(SourceText source, int start, int end) {
    String text = source.text();
    List<Word> words = new ArrayList<>();
    int at = start;
    while (at < end) {
      char c = text.charAt(at);
      if (c == '#') {
        break;
      }
      boolean continued = c == '\\' && end(text, at) - at <= 2 && end(text, at) < text.length();
      if (continued || " \t\r\n,".indexOf(c) >= 0) {
        at++;
        continue;
      }
      int from = at;
      boolean quoted = false;
      while (at < end && (quoted || (" \t\r\n#,".indexOf(text.charAt(at)) < 0))) {
        quoted ^= text.charAt(at) == '"';
        at++;
      }
      if (quoted) {
        throw source.malformed(from, "the quote that opens here is not closed on its line.");
      }
      words.add(new Word(meaning(text.substring(from, at)), from, at));
    }
    if (words.isEmpty()) {
      return Optional.empty();
    }
    return Optional.of(
        new Directive(
            source,
            words.get(0).value().toLowerCase(Locale.ROOT),
            words.subList(1, words.size()),
            words.get(0).from(),
            words.get(words.size() - 1).to(),
            Optional.empty()));
  }

  /** A word without its quotes; two inside of them stand for one. */
  private static String meaning(String word) {
    StringBuilder out = new StringBuilder();
    boolean quoted = false;
    for (int i = 0; i < word.length(); i++) {
      if (word.charAt(i) != '"') {
        out.append(word.charAt(i));
      } else if (quoted && i + 1 < word.length() && word.charAt(i + 1) == '"') {
        out.append('"');
        i++;
      } else {
        quoted = !quoted;
      }
    }
    return out.toString();
  }

  /** Whether clients over the network can use the line. */
  static boolean isNetwork(Directive line) {
    return line.name().startsWith("host");
  }

  static boolean takesClearText(Directive line) {
    return !line.is("hostssl") && !line.is("hostgssenc") && !isReject(line);
  }

  /**
   * Whether a line turns away everybody in clear text, whatever the database, the user and the
   * address: lines behind it, of which the first that matches counts, let nobody in so.
   */
  static boolean rejectsClearText(Directive line) {
    List<Word> fields = fields(line);
    boolean clear = line.is("hostnossl") || line.is("host");
    return clear
        && isReject(line)
        && fields.size() > 2
        && fields.get(0).value().equals("all")
        && fields.get(1).value().equals("all");
  }

  /** The addresses that a line is for, such as {@code all} or {@code 0.0.0.0/0}. */
  static String address(Directive line) {
    List<Word> fields = fields(line);
    return fields.size() > 2 ? fields.get(2).value() : "";
  }

  static boolean isReject(Directive line) {
    return line.values().contains("reject");
  }

  /** Whether only clients with a certificate pass. */
  static boolean wantsCertificate(Directive line) {
    return line.is("hostssl")
        && (line.values().contains("cert")
            || line.values().stream()
                .anyMatch(
                    word ->
                        word.equals("clientcert=verify-ca")
                            || word.equals("clientcert=verify-full")
                            || word.equals("clientcert=1")));
  }

  /** The word that says so. */
  static Optional<Word> certificateWord(Directive line) {
    return line.words().stream().filter(word -> word.value().startsWith("clientcert=")).findFirst();
  }

  /** Whether it logs in whoever shows a certificate, without a password. */
  static boolean logsInByCertificate(Directive line) {
    return line.is("hostssl")
        && method(line).filter(word -> word.value().equals("cert")).isPresent();
  }

  /** The map by which it turns names of certificates into roles. */
  static Optional<String> map(Directive line) {
    return line.values().stream()
        .filter(word -> word.startsWith("map="))
        .map(word -> word.substring("map=".length()))
        .findFirst();
  }

  /** The databases, the users, and the address with its mask: from where to where each stands. */
  static List<Word> fields(Directive line) {
    List<Word> fields = new ArrayList<>();
    String text = line.source().text();
    for (Word word : line.words()) {
      Word last = fields.isEmpty() ? word : fields.get(fields.size() - 1);
      // A comma right behind a word goes on with the same field.
      if (!fields.isEmpty() && text.charAt(last.to()) == ',') {
        fields.set(
            fields.size() - 1, new Word(last.value() + ',' + word.value(), last.from(), word.to()));
      } else {
        fields.add(word);
      }
    }
    return fields;
  }

  private static Optional<Word> method(Directive line) {
    List<Word> fields = fields(line);
    int at = addressEnd(fields);
    return at < fields.size() ? Optional.of(fields.get(at)) : Optional.empty();
  }

  /** Which field comes behind the address; an address without a length has a mask behind it. */
  static int addressEnd(List<Word> fields) {
    boolean masked =
        fields.size() > 3
            && fields.get(2).value().matches("[0-9.]+|[0-9a-fA-F]*:[0-9a-fA-F:.]*")
            && fields.get(3).value().matches("[0-9.]+|[0-9a-fA-F]*:[0-9a-fA-F:.]*");
    return masked ? 4 : 3;
  }
}
