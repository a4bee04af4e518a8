// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.lossless.Directive;
import io.symbolon.lossless.HttpdText;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import io.symbolon.server.machine.Include;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.text.IncludedFiles;
import io.symbolon.server.text.SettingsFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * All settings of httpd, read as it reads them: in order, with what is included in its place,
 * variables resolved, and conditions decided by what was read before. What a condition leaves out
 * is kept aside.
 */
final class HttpdTree {
  private static final Set<String> CONDITIONS =
      Set.of("ifmodule", "ifdefine", "ifversion", "iffile", "ifdirective", "ifsection");
  private static final String VERSION = "2.4.99";

  private final Machine machine;
  private final Path main;
  private final SettingsFiles settings;
  private final Variables variables = new Variables();
  private final Set<String> modules =
      new HashSet<>(Set.of("core_module", "so_module", "http_module", "version_module"));
  private final IncludedFiles included;
  private final List<Directive> directives;
  private final List<Directive> leftOut = new ArrayList<>();
  private Path root;

  private HttpdTree(Machine machine, Path main) {
    this.machine = machine;
    this.main = main;
    Path folder = Optional.ofNullable(main.toAbsolutePath().getParent()).orElse(main);
    boolean below = String.valueOf(folder.getFileName()).equals("conf");
    this.root = below ? Optional.ofNullable(folder.getParent()).orElse(folder) : folder;
    this.settings = new SettingsFiles(machine.files(), "Apache httpd");
    variables.environment(machine.files(), folder.resolve("envvars"));
    this.included = new IncludedFiles(machine, settings, HttpdText::read, this::expand);
    this.directives = included.file(main, List.of());
  }

  static HttpdTree read(Machine machine, Path main) {
    return new HttpdTree(machine, main);
  }

  /** The settings that count. */
  List<Directive> directives() {
    return directives;
  }

  /** Sites and listen lines that stand inside of a condition that does not hold. */
  List<Directive> leftOut() {
    return leftOut;
  }

  /** What stands in a file, read behind everything else. */
  List<Directive> alone(Path file) {
    return included.file(file, List.of());
  }

  SettingsFiles files() {
    return settings;
  }

  SourceText main() {
    return settings.get(main);
  }

  Variables variables() {
    return variables;
  }

  boolean hasModule(String name) {
    return modules.contains(name + "_module");
  }

  /** In how many places a file is included. */
  int uses(SourceText source) {
    return included.uses(source);
  }

  /** A path as httpd resolves it: below its root. */
  Path resolve(String text) {
    return machine.below(root, text);
  }

  Path root() {
    return root;
  }

  private void expand(List<Directive> list, List<Path> above, List<Directive> all) {
    for (Directive one : list) {
      Directive resolved = resolved(one);
      String name = one.name().toLowerCase(Locale.ROOT);
      if (one.block().isPresent()) {
        block(resolved, name, above, all);
      } else if (name.equals("include") || name.equals("includeoptional")) {
        include(resolved, name.equals("includeoptional"), above, all);
      } else {
        heed(resolved, name);
        all.add(resolved);
      }
    }
  }

  private void block(Directive one, String name, List<Path> above, List<Directive> all) {
    if (name.equals("macro")) {
      return; // what stands in it counts only where it is used, with other words in the place of
      // its own
    }
    List<Directive> inside = one.inside();
    if (CONDITIONS.contains(name)) {
      if (holds(name, one)) {
        expand(inside, above, all);
      } else {
        one.all()
            .filter(each -> each.is("VirtualHost") || each.is("Listen"))
            .map(this::resolved)
            .forEach(leftOut::add);
      }
      return;
    }
    List<Directive> expanded = new ArrayList<>();
    expand(inside, above, expanded);
    all.add(one.withInside(expanded));
  }

  private Directive resolved(Directive one) {
    if (one.words().stream().noneMatch(word -> word.value().contains("${"))) {
      return one;
    }
    List<Word> words =
        one.words().stream()
            .map(word -> new Word(variables.resolved(word.value()), word.from(), word.to()))
            .toList();
    return new Directive(one.source(), one.name(), words, one.from(), one.to(), one.block());
  }

  private void heed(Directive one, String name) {
    switch (name) {
      case "serverroot" -> root = machine.below(root, one.value(0));
      case "loadmodule" -> modules.add(one.value(0));
      case "define" -> variables.define(one.value(0), one.value(1));
      case "undefine" -> variables.undefine(one.value(0));
      default -> {}
    }
  }

  private boolean holds(String name, Directive one) {
    boolean not = one.value(0).startsWith("!");
    String what = not ? one.value(0).substring(1) : one.value(0);
    return switch (name) {
      case "ifmodule" -> modules.contains(module(what)) != not;
      case "ifdefine" -> variables.isDefined(what) != not;
      case "iffile" -> machine.files().exists(resolve(what)) != not;
      case "ifversion" -> version(one.values());
      default -> !not; // what this server knows is not known here
    };
  }

  /** A module by its name, also where it is called after the file of its source. */
  private static String module(String what) {
    if (!what.endsWith(".c")) {
      return what;
    }
    String base = what.substring(0, what.length() - 2);
    return (base.startsWith("mod_")
            ? base.substring(4)
            : Set.of("event", "worker", "prefork").contains(base) ? "mpm_" + base : base)
        + "_module";
  }

  private static boolean version(List<String> words) {
    String sign = words.size() > 1 ? words.get(0) : "=";
    String wanted = words.isEmpty() ? VERSION : words.get(words.size() - 1);
    boolean not = sign.startsWith("!");
    int order = order(VERSION, wanted);
    boolean holds =
        switch (not ? sign.substring(1) : sign) {
          case ">" -> order > 0;
          case ">=" -> order >= 0;
          case "<" -> order < 0;
          case "<=" -> order <= 0;
          default -> VERSION.startsWith(wanted);
        };
    return holds != not;
  }

  private static int order(String one, String other) {
    List<Integer> own = numbers(one);
    List<Integer> its = numbers(other);
    for (int i = 0; i < Math.max(own.size(), its.size()); i++) {
      int order = Integer.compare(i < own.size() ? own.get(i) : 0, i < its.size() ? its.get(i) : 0);
      if (order != 0) {
        return order;
      }
    }
    return 0;
  }

  private static List<Integer> numbers(String version) {
    List<Integer> numbers = new ArrayList<>();
    for (String part : version.split("\\.", -1)) {
      boolean number =
          part.length() < 9 && !part.isEmpty() && part.chars().allMatch(Character::isDigit);
      numbers.add(number ? Integer.parseInt(part) : 0);
    }
    return numbers;
  }

  private void include(Directive include, boolean optional, List<Path> above, List<Directive> all) {
    List<Path> found =
        Include.isPattern(include.value(0))
            ? Include.matching(machine, root, include.value(0))
            : one(resolve(include.value(0)), optional);
    for (Path each : found) {
      included.below(each, above, all);
    }
  }

  private List<Path> one(Path path, boolean optional) {
    return Files.isDirectory(path) || !optional || machine.files().exists(path)
        ? List.of(path)
        : List.of();
  }
}
