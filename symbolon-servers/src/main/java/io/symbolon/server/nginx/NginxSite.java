// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.convert.FileNames;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.NginxText;
import io.symbolon.server.Proposal;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Include;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.Wish;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A site for a server that has none: a file of its own in the first folder that the web's block
 * takes files in from. It begins in clear text, and is then changed like any other.
 */
final class NginxSite {
  private static final int USUAL_PORT = 443;

  private NginxSite() {}

  /** The file; nothing where no folder is taken in, or no name is given. */
  static Optional<FileChange> of(Machine machine, NginxTree tree, Path main, Wish wish) {
    Optional<Path> path = path(machine, tree, main, wish);
    if (path.isEmpty()) {
      return Optional.empty();
    }
    StringBuilder text = new StringBuilder("server {\n    listen ");
    text.append(wish.port().orElse(USUAL_PORT)).append(";\n    server_name");
    wish.hosts().forEach(host -> text.append(' ').append(NginxText.word(host.typed())));
    return Optional.of(
        FileChange.newSettings(
            path.get(), text.append(";\n}\n").toString().getBytes(StandardCharsets.UTF_8)));
  }

  private static Optional<Path> path(Machine machine, NginxTree tree, Path main, Wish wish) {
    if (wish.hosts().isEmpty()) {
      return Optional.empty();
    }
    String name = FileNames.safe(wish.hosts().get(0).typed());
    for (Directive http : tree.own(main)) {
      for (Directive include : http.is("http") ? http.inside("include") : List.<Directive>of()) {
        String pattern = include.value(0);
        int slash = pattern.lastIndexOf('/');
        String last = pattern.substring(slash + 1);
        boolean any = last.equals("*") || last.equals("*.conf");
        if (any && slash > 0 && !Include.isPattern(pattern.substring(0, slash))) {
          Path folder = tree.resolve(pattern.substring(0, slash));
          Path file = folder.resolve(name + last.substring(1));
          if (Files.isDirectory(folder) && !machine.files().exists(file)) {
            return Optional.of(file);
          }
        }
      }
    }
    return Optional.empty();
  }

  /** The proposal that was made with the file in view, with the file as the new one that it is. */
  static Proposal made(Proposal proposal, Path path) {
    List<FileChange> changes = new ArrayList<>();
    for (FileChange one : proposal.changes()) {
      changes.add(one.path().equals(path) ? FileChange.newSettings(path, one.after()) : one);
    }
    return new Proposal(
        proposal.installation(),
        proposal.place(),
        changes,
        proposal.newFolders(),
        proposal.steps(),
        proposal.findings());
  }
}
