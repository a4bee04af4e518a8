// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/** What runs through a whole text and is told once, with the line it was first seen on. */
final class TextHabits {
  /** The habits that are told. */
  enum Habit {
    INDENTED(PemFlaw.Type.MENDED, "Lines of a block are indented."),
    QUOTED(PemFlaw.Type.MENDED, "Lines begin with '>', as in a reply to a mail."),
    ESCAPED(
        PemFlaw.Type.MENDED, "Line breaks are written as \\n, as in a JSON or properties file."),
    GLUED(PemFlaw.Type.MENDED, "A boundary line does not stand on a line of its own."),
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

  List<PemFlaw> flaws() {
    List<PemFlaw> flaws = new ArrayList<>();
    first.forEach((habit, line) -> flaws.add(new PemFlaw(line, habit.kind, habit.statement)));
    return flaws;
  }
}
