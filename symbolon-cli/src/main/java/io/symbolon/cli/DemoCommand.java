// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.story.Story;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ServiceLoader;

/** {@code symbolon demo}. */
final class DemoCommand {
  private static final String FOLDER = "lanternfish-demo";

  private DemoCommand() {}

  static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .value(
            "into",
            "FOLDER",
            "The new folder for the files of the story; " + FOLDER + " if not said.")
        .talking();
  }

  static int run(Invocation invocation, GivenOptions given) {
    Path folder = given.pathOf("into").orElseGet(DemoCommand::freeFolder);
    Session session = invocation.session();
    Paint paint = invocation.output().paint();
    Story story =
        ServiceLoader.load(Story.class, DemoCommand.class.getClassLoader())
            .findFirst()
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.NOT_FOUND,
                        "The demo was not run.",
                        "It is not part of this installation.",
                        "Install the distribution with the demo, on a host where you try things."));
    boolean well =
        story.tell(
            new Story.Telling(
                folder,
                session.out(),
                session.clock(),
                paint::heading,
                paint::command,
                paint::faint,
                invocation.output().commands().shell()::line,
                arguments -> new Cli(session).run(arguments.toArray(String[]::new))));
    return well ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static Path freeFolder() {
    Path folder = Path.of(FOLDER);
    for (int number = 2; Files.exists(folder, LinkOption.NOFOLLOW_LINKS); number++) {
      folder = Path.of(FOLDER + "-" + number);
    }
    return folder;
  }
}
