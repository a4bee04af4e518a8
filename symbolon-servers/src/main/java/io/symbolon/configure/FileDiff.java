// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import com.github.difflib.patch.AbstractDelta;
import com.github.difflib.patch.ChangeDelta;
import com.github.difflib.patch.Chunk;
import com.github.difflib.patch.DeleteDelta;
import com.github.difflib.patch.InsertDelta;
import com.github.difflib.patch.Patch;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.FileChange;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** What would change in a settings file, as a unified diff. Passwords in it are not shown. */
public final class FileDiff {
  private static final int CONTEXT = 3;
  private static final String NO_LINE_END = "\\ No newline at end of file";

  private FileDiff() {}

  /**
   * {@return the lines of the diff; none where nothing changes}
   *
   * @param change the change of a settings file
   */
  public static List<String> lines(FileChange change) {
    List<String> before =
        change.before().map(octets -> split(change.path(), octets)).orElse(List.of());
    List<String> after = split(change.path(), change.after());
    String name = VisibleText.of(shown(change.path()));
    List<String> shownBefore = Passwords.masked(before, change.hidden());
    List<String> diff =
        UnifiedDiffUtils.generateUnifiedDiff(
            change.before().isPresent() ? name : "/dev/null",
            name,
            Passwords.around(before, change.hidden()),
            masked(
                DiffUtils.diff(before, after),
                shownBefore,
                Passwords.masked(after, change.hidden())),
            CONTEXT);
    List<String> lines = new ArrayList<>();
    for (String line : diff) {
      for (String part : line.split("\n", -1)) {
        if (change.before().isEmpty() && part.startsWith("@@ -1,0 ")) {
          part = "@@ -0,0" + part.substring("@@ -1,0".length());
        }
        lines.add(part.equals(NO_LINE_END) ? part : visible(part));
      }
    }
    return lines;
  }

  /** Tabs stay tabs: they are what settings are indented by. */
  private static String visible(String line) {
    return Arrays.stream(line.split("\t", -1))
        .map(VisibleText::of)
        .collect(java.util.stream.Collectors.joining("\t"));
  }

  /** The file behind a link, which is what changes. */
  private static String shown(Path path) {
    try {
      return path.toRealPath().toString();
    } catch (IOException e) {
      return path.toString();
    }
  }

  private static List<String> split(Path path, byte[] octets) {
    String text = SourceText.of(path, octets).text().replace("\r\n", "\n");
    if (text.isEmpty()) {
      return List.of();
    }
    List<String> lines = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
    int last = lines.size() - 1;
    if (lines.get(last).isEmpty()) {
      lines.remove(last);
    } else {
      lines.set(last, lines.get(last) + "\n" + NO_LINE_END);
    }
    return lines;
  }

  /** The same changes with lines in which passwords are not shown. */
  private static Patch<String> masked(
      Patch<String> patch, List<String> before, List<String> after) {
    Patch<String> shown = new Patch<>();
    for (AbstractDelta<String> delta : patch.getDeltas()) {
      Chunk<String> old = part(delta.getSource(), before);
      Chunk<String> fresh = part(delta.getTarget(), after);
      shown.addDelta(
          switch (delta.getType()) {
            case INSERT -> new InsertDelta<>(old, fresh);
            case DELETE -> new DeleteDelta<>(old, fresh);
            default -> new ChangeDelta<>(old, fresh);
          });
    }
    return shown;
  }

  private static Chunk<String> part(Chunk<String> chunk, List<String> lines) {
    int from = chunk.getPosition();
    return new Chunk<>(from, lines.subList(from, from + chunk.size()));
  }
}
