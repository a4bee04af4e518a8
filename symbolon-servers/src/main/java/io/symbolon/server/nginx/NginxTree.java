// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Snapshot;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.NginxText;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.FileView;
import io.symbolon.server.Include;
import io.symbolon.server.Machine;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** All settings of nginx, with what the main file includes in the places where it does. */
final class NginxTree {
  private final Machine machine;
  private final Path folder;
  private final Map<Path, SourceText> sources = new LinkedHashMap<>();
  private final Map<Path, Optional<Snapshot>> snapshots = new HashMap<>();
  private final Map<Path, byte[]> octets = new HashMap<>();
  private final Map<Path, Integer> uses = new HashMap<>();
  private final List<Directive> directives;

  private NginxTree(Machine machine, Path main) {
    this.machine = machine;
    this.folder = Optional.ofNullable(main.toAbsolutePath().getParent()).orElse(main);
    directives = file(main, List.of());
  }

  static NginxTree read(Machine machine, Path main) {
    return new NginxTree(machine, main);
  }

  List<Directive> directives() {
    return directives;
  }

  /** The files, in the order in which they were met. */
  List<Path> files() {
    return List.copyOf(sources.keySet());
  }

  Optional<Snapshot> snapshot(Path file) {
    return snapshots.getOrDefault(file, Optional.empty());
  }

  byte[] octets(SourceText source) {
    return octets.getOrDefault(source.path(), new byte[0]);
  }

  /** In how many places a file is included. */
  int uses(SourceText source) {
    return uses.getOrDefault(source.path(), 1);
  }

  /** A path as nginx resolves it: below the folder of its main file. */
  Path resolve(String text) {
    return text.startsWith("/") ? machine.path(text) : folder.resolve(text);
  }

  private List<Directive> file(Path path, List<Path> above) {
    if (above.contains(path)) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The settings of nginx can't be read. Nothing was changed.",
          "The file " + VisibleText.of(path.toString()) + " includes itself.",
          "Take that include away, and give the command again.");
    }
    uses.merge(path, 1, Integer::sum);
    if (!sources.containsKey(path)) {
      if (sources.size() >= Limits.SETTINGS_FILES) {
        throw new SymbolonException(
            Reason.LIMIT_PASSED,
            "The settings of nginx can't be read.",
            "They include more than " + Limits.SETTINGS_FILES + " files.",
            "Check the include lines.");
      }
      FileView.ReadFile read =
          machine
              .files()
              .read(path)
              .orElseThrow(
                  () ->
                      new SymbolonException(
                          Reason.NOT_FOUND,
                          "The settings of nginx can't be read.",
                          "The file " + VisibleText.of(path.toString()) + " is not there.",
                          "Check the include lines, or name the settings with --home."));
      sources.put(path, SourceText.of(path, read.octets()));
      octets.put(path, read.octets());
      snapshots.put(path, read.snapshot());
    }
    List<Path> here = new ArrayList<>(above);
    here.add(path);
    SourceText source = java.util.Objects.requireNonNull(sources.get(path));
    return expanded(NginxText.read(source), here);
  }

  private List<Directive> expanded(List<Directive> list, List<Path> above) {
    List<Directive> all = new ArrayList<>();
    for (Directive one : list) {
      if (one.is("include") && one.block().isEmpty() && one.words().size() == 1) {
        included(one, above, all);
      } else if (one.block().isPresent()) {
        Directive.Block block = one.block().get();
        all.add(
            new Directive(
                one.source(),
                one.name(),
                one.words(),
                one.from(),
                one.to(),
                Optional.of(
                    new Directive.Block(
                        block.from(), block.to(), expanded(block.directives(), above)))));
      } else {
        all.add(one);
      }
    }
    return all;
  }

  private void included(Directive include, List<Path> above, List<Directive> all) {
    Path path = resolve(include.value(0));
    if (Include.isPattern(include.value(0))) {
      for (Path each : Include.matching(machine.files(), path)) {
        if (!java.nio.file.Files.isDirectory(each)) {
          all.addAll(file(each, above));
        }
      }
    } else {
      all.addAll(file(path, above));
    }
  }
}
