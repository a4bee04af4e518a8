// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.file.Snapshot;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.NginxText;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.text.IncludedFiles;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** All settings of nginx, with what the main file includes in the places where it does. */
final class NginxTree {
  private final Machine machine;
  private final Path folder;
  private final SettingsFiles settings;
  private final IncludedFiles included;
  private final List<Directive> directives;

  private NginxTree(Machine machine, Path main) {
    this.machine = machine;
    this.folder = Optional.ofNullable(main.toAbsolutePath().getParent()).orElse(main);
    this.settings = new SettingsFiles(machine.files(), "nginx");
    this.included = new IncludedFiles(machine, settings, NginxText::read, this::expand);
    this.directives = included.file(main, List.of());
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
    return included.uses(source);
  }

  /** What stands in a file itself, with its include lines as they are. */
  List<Directive> own(Path file) {
    return NginxText.read(settings.get(file));
  }

  /** A path as nginx resolves it: below the folder of its main file. */
  Path resolve(String text) {
    return machine.below(folder, text);
  }

  private void expand(List<Directive> list, List<Path> above, List<Directive> all) {
    for (Directive one : list) {
      if (one.is("include") && one.block().isEmpty() && one.words().size() == 1) {
        included.include(folder, one.value(0), above, all);
      } else if (one.block().isPresent()) {
        List<Directive> inside = new ArrayList<>();
        expand(one.inside(), above, inside);
        all.add(one.withInside(inside));
      } else {
        all.add(one);
      }
    }
  }
}
