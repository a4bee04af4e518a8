// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Patterns for names of files, as settings files use them to take others in. */
public final class Include {
  private Include() {}

  /** {@return whether a text is a pattern and not the name of one file} */
  public static boolean isPattern(String text) {
    return text.indexOf('*') >= 0 || text.indexOf('?') >= 0 || text.indexOf('[') >= 0;
  }

  /**
   * {@return the files that a pattern stands for, in the order of their names; as the system's own
   * patterns do, {@code *} and {@code ?} pass over names that begin with a dot}
   *
   * @param folder the folder that it is below, where it is not absolute
   * @param pattern a path, its names may be patterns
   */
  public static List<Path> matching(Machine machine, Path folder, String pattern) {
    // A Windows has no path with such a character in it: what stands before is one.
    String text = machine.isWindows() ? pattern.replace('\\', '/') : pattern;
    int first = 0;
    while (first < text.length() && "*?[".indexOf(text.charAt(first)) < 0) {
      first++;
    }
    int cut = text.lastIndexOf('/', first) + 1;
    Path start = cut == 0 ? folder : machine.below(folder, text.substring(0, cut));
    List<Path> found = new ArrayList<>();
    List<String> names =
        Stream.of(text.substring(cut).split("/", -1)).filter(name -> !name.isEmpty()).toList();
    descend(machine.files(), start.toAbsolutePath(), names, 0, found);
    return found;
  }

  private static void descend(
      FileView files, Path at, List<String> names, int depth, List<Path> found) {
    if (depth == names.size()) {
      if (files.exists(at)) {
        found.add(at);
      }
      return;
    }
    String name = names.get(depth);
    if (!isPattern(name)) {
      descend(files, at.resolve(name), names, depth + 1, found);
      return;
    }
    Pattern regex = regex(name);
    for (Path each : files.list(at)) {
      String one = String.valueOf(each.getFileName());
      if ((!one.startsWith(".") || name.startsWith(".")) && regex.matcher(one).matches()) {
        descend(files, each, names, depth + 1, found);
      }
    }
  }

  private static Pattern regex(String glob) {
    StringBuilder regex = new StringBuilder();
    for (int i = 0; i < glob.length(); i++) {
      char c = glob.charAt(i);
      int close = c == '[' ? glob.indexOf(']', i + 2) : -1;
      if (c == '*') {
        regex.append(".*");
      } else if (c == '?') {
        regex.append('.');
      } else if (close > 0) {
        String inside = glob.substring(i + 1, close);
        boolean not = inside.startsWith("!") || inside.startsWith("^");
        regex
            .append(not ? "[^" : "[")
            .append((not ? inside.substring(1) : inside).replaceAll("([\\\\\\[\\]&^])", "\\\\$1"))
            .append(']');
        i = close;
      } else {
        regex.append(Pattern.quote(String.valueOf(c)));
      }
    }
    return Pattern.compile(regex.toString(), Pattern.DOTALL);
  }
}
