// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What runs through a whole text and is told once, with the line it was first seen on. */
final class TextHabits {
  /** The habits that are told. */
  enum Habit {
    INDENTED(PemFlaw.Type.MENDED, "Lines of a block are indented."),
    QUOTED(PemFlaw.Type.MENDED, "Lines begin with '>', as in a reply to a mail."),
    ESCAPED(
        PemFlaw.Type.MENDED, "Line breaks are written as \\n, as in a JSON or properties file."),
    COMMENTED(
        PemFlaw.Type.MENDED,
        "A block is commented out, with '#' or ';' in front of its lines. It was passed over, as"
            + " servers do; what is in it can be read all the same."),
    GLUED(PemFlaw.Type.GLUED, "A boundary line does not stand on a line of its own."),
    WINDOWS_LINES(
        PemFlaw.Type.HARMLESS, "Lines end in carriage return and line feed, as on Windows."),
    OTHER_TEXT(PemFlaw.Type.HARMLESS, "Text stands around the blocks; it was passed over.");

    private final PemFlaw.Type kind;
    private final String statement;

    Habit(PemFlaw.Type kind, String statement) {
      this.kind = kind;
      this.statement = statement;
    }
  }

  private final Map<Habit, Integer> first = new EnumMap<>(Habit.class);

  void see(Habit habit, int line) {
    first.putIfAbsent(habit, line);
  }

  Optional<PemFlaw> first(Habit habit) {
    return Optional.ofNullable(first.get(habit))
        .map(line -> new PemFlaw(line, habit.kind, habit.statement));
  }

  List<PemFlaw> flaws() {
    List<PemFlaw> flaws = new ArrayList<>();
    first.forEach((habit, line) -> flaws.add(new PemFlaw(line, habit.kind, habit.statement)));
    return flaws;
  }
}
