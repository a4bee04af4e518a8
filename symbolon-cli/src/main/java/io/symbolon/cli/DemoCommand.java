// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.story.Story;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.concurrent.CountDownLatch;

/** {@code symbolon demo}. */
final class DemoCommand {
  private static final String FOLDER = "lanternfish-demo";

  private DemoCommand() {}

  static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .value(
            "into",
            "FOLDER",
            "The new folder for the files of the story; " + FOLDER + " by default.")
        .value(
            "serve",
            "PORT",
            "Serve a page with the keystore of an earlier demo, on this port of 127.0.0.1, and a"
                + " stand-in for a PostgreSQL on the port above it, until you end it; something to"
                + " probe.")
        .talking();
  }

  static int run(Invocation invocation, GivenOptions given) {
    Optional<String> port = given.value("serve");
    if (port.isPresent()) {
      return serve(invocation, given, port.get());
    }
    Path folder = given.pathOf("into").orElseGet(DemoCommand::freeFolder);
    Session session = invocation.session();
    Paint paint = invocation.output().paint();
    boolean well =
        story()
            .tell(
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

  private static Story story() {
    return ServiceLoader.load(Story.class, DemoCommand.class.getClassLoader())
        .findFirst()
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.NOT_FOUND,
                    "The demo was not run.",
                    "It is not part of this installation.",
                    "Install the distribution with the demo, on a host where you try things."));
  }

  /** Serves until the process is ended, or its thread interrupted. */
  private static int serve(Invocation invocation, GivenOptions given, String port) {
    if (!port.matches("[0-9]{1,5}") || Integer.parseInt(port) > 65_535) {
      throw Usage.wrong(
          "'" + Output.shown(port) + "' is not a port.", "Say for example --serve 18443.");
    }
    Path folder = given.pathOf("into").orElse(Path.of(FOLDER));
    if (!Files.isDirectory(folder)) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "Nothing is served.",
          "There is no folder " + Output.shown(folder) + " of an earlier demo.",
          "Run the demo first: symbolon demo");
    }
    Story.Served served = story().serve(folder, Integer.parseInt(port));
    invocation
        .output()
        .line(
            "Serving "
                + Output.shown(served.keystore())
                + " at "
                + served.address()
                + ", for "
                + served.host()
                + ", and at "
                + served.database()
                + " a stand-in for a PostgreSQL. End it with Ctrl+C.");
    invocation.session().out().flush();
    try {
      new CountDownLatch(1).await();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      served.server().run();
    }
    return ExitCode.DONE;
  }

  private static Path freeFolder() {
    Path folder = Path.of(FOLDER);
    for (int number = 2; Files.exists(folder, LinkOption.NOFOLLOW_LINKS); number++) {
      folder = Path.of(FOLDER + "-" + number);
    }
    return folder;
  }
}
