// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.compare;

import io.symbolon.cli.document.CompareDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.compare.Comparison;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/** {@code symbolon compare ONE OTHER}. */
public final class CompareCommand {
  private CompareCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .two(
            "ONE OTHER",
            "Two files, folders or archives, the older one first: certificates, keystores, truststores"
                + " in any format.")
        .unlock()
        .flag("details", "Name what is the same one by one, too.")
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    List<Path> paths = given.paths();
    List<Secret> unlock = invocation.unlock(given.unlock());
    Comparison comparison =
        Comparison.of(
            read(invocation, paths.get(0), unlock), read(invocation, paths.get(1), unlock));
    if (invocation.output().isJson()) {
      invocation
          .output()
          .json(
              CompareDocument.of(
                  paths, comparison, invocation.notices(), invocation.output().commands()));
    } else {
      new CompareText(invocation.output(), paths, comparison, given.has("details"))
          .print(invocation.notices());
    }
    return Stream.of(comparison.one(), comparison.other())
        .flatMap(side -> side.failures().stream())
        .map(failure -> ExitCode.of(failure.reason()))
        .findFirst()
        .orElse(ExitCode.DONE);
  }

  /** One side; where nothing of it can be read, there is nothing to compare. */
  private static Survey read(Invocation invocation, Path path, List<Secret> unlock) {
    Survey side = invocation.survey(List.of(path), unlock);
    boolean nothing = side.files().stream().allMatch(file -> file.isEmpty());
    if (nothing && !side.failures().isEmpty()) {
      throw side.failures().get(0);
    }
    return side;
  }
}
