package io.symbolon.cli;

import io.symbolon.cli.demo.Demo;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;

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

  static int run(Invocation invocation) {
    Path folder = invocation.value("into").map(Invocation::path).orElseGet(DemoCommand::freeFolder);
    Session session = invocation.session();
    Paint paint = invocation.output().paint();
    Demo demo =
        new Demo(
            folder,
            session.out(),
            session.clock(),
            new Demo.Style(paint::heading, paint::command, paint::faint),
            arguments -> new Cli(session).run(arguments.toArray(String[]::new)));
    return demo.run() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static Path freeFolder() {
    Path folder = Path.of(FOLDER);
    for (int number = 2; Files.exists(folder, LinkOption.NOFOLLOW_LINKS); number++) {
      folder = Path.of(FOLDER + "-" + number);
    }
    return folder;
  }
}
