// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.file.Snapshot;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.NginxText;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.Include;
import io.symbolon.server.Machine;
import io.symbolon.server.SettingsFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** All settings of nginx, with what the main file includes in the places where it does. */
final class NginxTree {
  private final Machine machine;
  private final Path folder;
  private final SettingsFiles settings;
  private final Map<Path, Integer> uses = new HashMap<>();
  private final List<Directive> directives;
  private int included; // files in files in files can be many more than there are

  private NginxTree(Machine machine, Path main) {
    this.machine = machine;
    this.folder = Optional.ofNullable(main.toAbsolutePath().getParent()).orElse(main);
    this.settings = new SettingsFiles(machine.files(), "nginx");
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
    return settings.paths();
  }

  Optional<Snapshot> snapshot(Path file) {
    return settings.snapshot(file);
  }

  byte[] octets(SourceText source) {
    return settings.octets(source);
  }

  /** In how many places a file is included. */
  int uses(SourceText source) {
    return uses.getOrDefault(source.path(), 1);
  }

  /** What stands in a file itself, with its include lines as they are. */
  List<Directive> own(Path file) {
    return NginxText.read(settings.get(file));
  }

  /** A path as nginx resolves it: below the folder of its main file. */
  Path resolve(String text) {
    return machine.below(folder, text);
  }

  private List<Directive> file(Path path, List<Path> above) {
    if (above.contains(path)) {
      throw settings.loop(path);
    }
    if (++included > Limits.SETTINGS_FILES) {
      throw settings.tooMany();
    }
    uses.merge(path, 1, Integer::sum);
    List<Path> here = new ArrayList<>(above);
    here.add(path);
    return expanded(NginxText.read(settings.get(path)), here);
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
    if (Include.isPattern(include.value(0))) {
      for (Path each : Include.matching(machine, folder, include.value(0))) {
        if (!Files.isDirectory(each)) {
          all.addAll(file(each, above));
        }
      }
    } else {
      all.addAll(file(resolve(include.value(0)), above));
    }
  }
}
