// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postfix;

import io.symbolon.lossless.SourceText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A service of master.cf. A line that begins with a blank goes on with the one before it.
 *
 * @param name its name, which is its address and port where it is of the kind inet
 * @param type inet, unix, fifo or pass
 * @param command the program
 * @param settings the settings of its own, with {@code -o}
 * @param from where it begins
 */
record MasterLine(
    String name, String type, String command, Map<String, String> settings, int from) {
  private static final int FIELDS = 8;

  /** The services of a file, in order. */
  static List<MasterLine> read(SourceText source) {
    List<MasterLine> all = new ArrayList<>();
    String text = source.text();
    StringBuilder logical = new StringBuilder();
    int begin = 0;
    for (int at = 0, end; at <= text.length(); at = end + 1) {
      int close = text.indexOf('\n', at);
      end = close < 0 ? text.length() : close;
      String line = text.substring(at, end);
      boolean goesOn = line.startsWith(" ") || line.startsWith("\t");
      boolean nothing = line.isBlank() || line.stripLeading().startsWith("#");
      if (!nothing && goesOn) {
        logical.append(' ').append(line);
      } else if (!nothing) {
        add(logical.toString(), begin, all);
        logical.setLength(0);
        logical.append(line);
        begin = at;
      }
    }
    add(logical.toString(), begin, all);
    return all;
  }

  private static void add(String logical, int from, List<MasterLine> all) {
    String[] words = logical.strip().split("\\s+", -1);
    if (words.length < FIELDS) {
      return; // no service
    }
    Map<String, String> settings = new LinkedHashMap<>();
    for (int i = FIELDS; i < words.length; i++) {
      boolean behind = words[i].equals("-o") && i + 1 < words.length;
      if (behind || (words[i].startsWith("-o") && words[i].length() > 2)) {
        StringBuilder setting = new StringBuilder(behind ? words[++i] : words[i].substring(2));
        // In braces a setting may have blanks.
        while (setting.charAt(0) == '{'
            && setting.charAt(setting.length() - 1) != '}'
            && i + 1 < words.length) {
          setting.append(' ').append(words[++i]);
        }
        String plain = setting.toString().replaceAll("^\\{\\s*|\\s*\\}$", "");
        int equals = plain.indexOf('=');
        if (equals > 0) {
          settings.put(plain.substring(0, equals).strip(), plain.substring(equals + 1).strip());
        }
      }
    }
    all.add(new MasterLine(words[0], words[1], words[FIELDS - 1], settings, from));
  }
}
