// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.text;

import io.symbolon.limit.Limits;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.Include;
import io.symbolon.server.machine.Machine;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/**
 * Settings files with directives, each read where another takes it in, as often as that is done.
 * Not for several threads.
 */
public final class IncludedFiles {
  private final Machine machine;
  private final SettingsFiles settings;
  private final Function<SourceText, List<Directive>> language;
  private final Expansion expansion;
  private final Map<Path, Integer> uses = new HashMap<>();
  private int included; // files in files in files can be many more than there are

  /** What a server makes of the directives of a file. */
  public interface Expansion {
    /**
     * Adds what counts, with what is taken in in the place of what takes it in.
     *
     * @param list the directives as they are written
     * @param above the files that they stand in, the outermost first
     * @param all takes what counts
     */
    void expand(List<Directive> list, List<Path> above, List<Directive> all);
  }

  /**
   * None yet.
   *
   * @param language reads the directives of a file
   * @param expansion what the server makes of them
   */
  public IncludedFiles(
      Machine machine,
      SettingsFiles settings,
      Function<SourceText, List<Directive>> language,
      Expansion expansion) {
    this.machine = machine;
    this.settings = settings;
    this.language = language;
    this.expansion = expansion;
  }

  /**
   * {@return what counts in a file}
   *
   * @param above the files that take it in, the outermost first
   * @throws io.symbolon.failure.SymbolonException if it is not there, takes itself in, or there are
   *     too many
   */
  public List<Directive> file(Path path, List<Path> above) {
    if (above.contains(path)) {
      throw settings.loop(path);
    }
    count();
    uses.merge(path, 1, Integer::sum);
    List<Path> here = new ArrayList<>(above);
    here.add(path);
    List<Directive> all = new ArrayList<>();
    expansion.expand(language.apply(settings.get(path)), here, all);
    return all;
  }

  private void count() {
    if (++included > Limits.SETTINGS_FILES) {
      throw settings.tooMany();
    }
  }

  /**
   * Takes in what the name of a file, or a pattern for several, stands for.
   *
   * @param folder the folder that it is below, where it is not absolute
   * @param text the name or the pattern
   * @param above the files that take it in
   * @param all takes what counts
   */
  public void include(Path folder, String text, List<Path> above, List<Directive> all) {
    if (!Include.isPattern(text)) {
      all.addAll(file(machine.below(folder, text), above));
      return;
    }
    for (Path each : Include.matching(machine, folder, text)) {
      if (!Files.isDirectory(each)) {
        all.addAll(file(each, above));
      }
    }
  }

  /**
   * Takes in a file, or all files in a folder, at any depth.
   *
   * @param path the file or the folder
   * @param above the files that take it in
   * @param all takes what counts
   */
  public void below(Path path, List<Path> above, List<Directive> all) {
    if (!Files.isDirectory(path)) {
      all.addAll(file(path, above));
      return;
    }
    count();
    for (Path each : machine.files().list(path)) {
      below(each, above, all);
    }
  }

  /** {@return in how many places a file is taken in} */
  public int uses(SourceText source) {
    return uses.getOrDefault(source.path(), 1);
  }
}
