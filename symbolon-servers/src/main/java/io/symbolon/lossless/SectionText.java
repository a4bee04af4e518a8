// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Settings in sections.
 *
 * <pre>
 * file    = *( blank-line / comment / section / setting )
 * section = "[" name "]"
 * setting = name "=" value      ; the value is all of the rest of the line, quotes too
 * comment = "#" to the end of the line
 * </pre>
 *
 * <p>A whole name is the section's, a dot, and the setting's.
 */
public final class SectionText implements DottedText {
  private final SourceText source;
  private final String text;
  private final List<Named> settings = new ArrayList<>();
  private final Map<String, Integer> ends = new LinkedHashMap<>(); // behind a section's last line

  private SectionText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not this language, with line and column
   */
  public static SectionText read(SourceText source) {
    SectionText reader = new SectionText(source);
    reader.read();
    return reader;
  }

  private void read() {
    String section = "";
    int at = 0;
    while (at < text.length()) {
      int end = text.indexOf('\n', at);
      int close = end < 0 ? text.length() : end;
      int plain = close > at && text.charAt(close - 1) == '\r' ? close - 1 : close;
      String line = text.substring(at, plain);
      String stripped = line.strip();
      if (stripped.startsWith("[")) {
        if (!stripped.endsWith("]")) {
          throw source.malformed(at, "the ] of this section is missing.");
        }
        section = stripped.substring(1, stripped.length() - 1);
        ends.put(section, plain);
      } else if (!stripped.isEmpty() && !stripped.startsWith("#")) {
        int sign = line.indexOf('=');
        if (sign < 0) {
          throw source.malformed(at, "this line has no = in it.");
        }
        String name = line.substring(0, sign).strip();
        settings.add(
            new Named(section + "." + name, line.substring(sign + 1), 0, at + sign + 1, plain));
        ends.put(section, plain);
      }
      at = close + 1;
    }
  }

  @Override
  public SourceText source() {
    return source;
  }

  @Override
  public List<Named> settings() {
    return List.copyOf(settings);
  }

  @Override
  public void replace(Edits edits, Named old, String value) {
    edits.replace(old.from(), old.to(), value);
  }

  @Override
  public void change(Edits edits, Collection<Named> away, Map<String, String> fresh) {
    for (Named one : away) {
      int start = source.lineStart(one.from());
      // With the line end before it: what is new goes before the one behind it.
      int before =
          start == 0 ? 0 : start - (text.startsWith("\r\n", Math.max(0, start - 2)) ? 2 : 1);
      edits.replace(before, one.to(), "");
    }
    Map<String, StringBuilder> lines = new LinkedHashMap<>();
    fresh.forEach(
        (name, value) -> {
          int dot = name.lastIndexOf('.');
          lines
              .computeIfAbsent(name.substring(0, dot), section -> new StringBuilder())
              .append('\n')
              .append(name.substring(dot + 1))
              .append('=')
              .append(value);
        });
    lines.forEach(
        (section, added) -> {
          if (ends.containsKey(section)) {
            edits.insert(ends.get(section), added.toString());
          } else {
            boolean ended = text.isEmpty() || text.endsWith("\n");
            String space = text.isBlank() ? "" : "\n";
            edits.insert(
                text.length(), (ended ? "" : "\n") + space + "[" + section + "]" + added + "\n");
          }
        });
  }
}
