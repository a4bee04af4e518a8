// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.HttpdText;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.Proposal.Step.Order;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.text.SettingEdits;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Modules and sites switched on: by Debian's own programs where its folders are there, else by a
 * line of the main file.
 */
final class HttpdModules {
  private static final Pattern DEPENDS = Pattern.compile("(?m)^# Depends: (.*)$");

  private final Machine machine;
  private final Installation installation;
  private final HttpdTree tree;
  private final SettingEdits edits;
  private final Set<String> done = new LinkedHashSet<>();
  private final List<Proposal.Step> steps = new ArrayList<>();

  HttpdModules(Machine machine, Installation installation, HttpdTree tree, SettingEdits edits) {
    this.machine = machine;
    this.installation = installation;
    this.tree = tree;
    this.edits = edits;
  }

  List<Proposal.Step> steps() {
    return steps;
  }

  private boolean isDebian() {
    return Files.isDirectory(installation.home().resolve("mods-available"))
        && Files.isDirectory(installation.home().resolve("mods-enabled"));
  }

  void need(String module) {
    if (tree.hasModule(module) || !done.add(module)) {
      return;
    }
    if (isDebian()) {
      enable(module);
    } else {
      load(module);
    }
  }

  /** With what it depends on first, so that taking back in reverse order leaves all as it was. */
  private void enable(String module) {
    Path available = installation.home().resolve("mods-available");
    Path load = available.resolve(module + ".load");
    byte[] content = read(load).orElseThrow(() -> missing(module, load.toString()));
    Matcher depends = DEPENDS.matcher(new String(content, StandardCharsets.ISO_8859_1));
    if (depends.find()) {
      for (String other : depends.group(1).strip().split("\\s+", -1)) {
        need(other);
      }
    }
    List<FileChange> effect = new ArrayList<>();
    for (String end : List.of(".conf", ".load")) {
      read(available.resolve(module + end))
          .ifPresent(
              octets ->
                  effect.add(
                      FileChange.newSettings(
                          installation.home().resolve("mods-enabled/" + module + end), octets)));
    }
    steps.add(
        new Proposal.Step(
            "switch the module " + module + " on",
            debian("a2enmod", "-q", module),
            Optional.of(debian("a2dismod", "-q", "-f", module)),
            Order.BEFORE_FILES,
            effect));
  }

  /** The site of a file in Debian's folder, with what the file will hold. */
  void site(String name, byte[] content) {
    steps.add(
        new Proposal.Step(
            "switch the site " + name + " on",
            debian("a2ensite", "-q", name),
            Optional.of(debian("a2dissite", "-q", name)),
            Order.BEHIND_FILES,
            List.of(
                FileChange.newSettings(
                    installation.home().resolve("sites-enabled/" + name + ".conf"), content))));
  }

  private ServerCommand debian(String program, String... words) {
    Path path =
        machine
            .first("/usr/sbin/" + program)
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.NOT_FOUND,
                        "Nothing was changed.",
                        "The program " + program + " is needed and is not in /usr/sbin.",
                        "Install Debian's package apache2."));
    List<String> all = new ArrayList<>(List.of(path.toString()));
    all.addAll(List.of(words));
    return ServerCommand.of(all)
        .with(Map.of("APACHE_CONFDIR", installation.home().toString()))
        .reading(List.of(installation.home()));
  }

  /** A line behind the last one of its kind, with the module beside the others. */
  private void load(String module) {
    Directive last =
        tree.directives().stream()
            .filter(one -> one.is("LoadModule"))
            .filter(one -> one.source() == tree.main())
            .reduce((first, second) -> second)
            .orElseThrow(() -> missing(module, "a LoadModule line in " + installation.main()));
    String beside = last.value(1).replaceFirst("[^/\\\\]*$", "mod_" + module + ".so");
    if (!machine.files().exists(tree.resolve(beside))) {
      throw missing(module, tree.resolve(beside).toString());
    }
    String line = "LoadModule " + module + "_module " + HttpdText.word(beside);
    edits.of(last.source()).insert(last.to(), "\n" + line);
  }

  private Optional<byte[]> read(Path path) {
    return machine.files().read(path).map(FileView.ReadFile::octets);
  }

  private static SymbolonException missing(String module, String what) {
    return new SymbolonException(
        Reason.NOT_FOUND,
        "Nothing was changed.",
        "httpd's module " + module + " is needed and not loaded, and " + what + " is not there.",
        "Install the module, and give the command again.");
  }
}
