// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.document.DueDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.WrittenItem;
import io.symbolon.issue.Lifetime;
import io.symbolon.task.due.DueJob;
import io.symbolon.task.due.DueReport;
import io.symbolon.task.words.NetworkAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** {@code symbolon due}. */
public final class DueCommand {
  private DueCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files(
            "PATH",
            "Files, folders, keystores, folders of accounts and authorities; running servers as"
                + " HOST:PORT.")
        .value("within", "TIME", "What ends within this time is due; 30d by default.")
        .value(
            "into",
            "FILE",
            "Write it as a page for people (due.html), or for a monitoring agent (due.prom,"
                + " OpenMetrics).")
        .flag("replace", "Replace that file.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    Optional<Path> into = into(given);
    Output output = invocation.output();
    if (into.isPresent() && output.isJson()) {
      throw Usage.wrong("--into and --json are two ways to tell it.", "Leave one of them out.");
    }
    DueReport report = job(given).run(invocation.task());
    if (output.isJson()) {
      output.json(DueDocument.of(report, output.commands()));
    } else if (into.isPresent()) {
      write(into.get(), given.existing(), report, output);
    } else {
      new DueText(output, report).print();
    }
    return report.isQuiet() ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static DueJob job(GivenOptions given) {
    List<Path> paths = new ArrayList<>();
    List<DueJob.Server> servers = new ArrayList<>();
    for (String text : given.arguments()) {
      // What lies here under this name is meant; else what has the form of an address.
      boolean address = text.matches("[^/\\\\]+:[0-9]{1,5}") && !isThere(text);
      if (address) {
        int colon = text.lastIndexOf(':');
        String host = text.substring(0, colon);
        boolean bracketed = host.startsWith("[") && host.endsWith("]");
        servers.add(
            new DueJob.Server(
                bracketed ? host.substring(1, host.length() - 1) : host,
                NetworkAddress.port(text.substring(colon + 1), text)));
      } else {
        paths.add(GivenOptions.path(text));
      }
    }
    DueJob.Builder job = DueJob.of(paths).unlock(given.unlock());
    servers.forEach(one -> job.server(one.host(), one.port()));
    given.value("within").map(Lifetime::parse).ifPresent(job::within);
    return job.build();
  }

  private static boolean isThere(String text) {
    return Files.exists(GivenOptions.path(text));
  }

  private static Optional<Path> into(GivenOptions given) {
    Optional<Path> into = given.pathOf("into");
    into.ifPresent(
        file -> {
          String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
          if (!name.endsWith(".html") && !name.endsWith(".prom")) {
            throw Usage.wrong(
                "The name of --into does not tell what is wanted.",
                "End it in .html for a page, or in .prom for a monitoring agent.");
          }
        });
    return into;
  }

  private static void write(Path file, Existing existing, DueReport report, Output output) {
    boolean page = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT).endsWith(".html");
    String text = page ? new DuePage(report, output.commands()).html() : DueMetrics.text(report);
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                new FileItem(
                        file,
                        text.getBytes(StandardCharsets.UTF_8),
                        Privacy.SYSTEM_DEFAULT,
                        existing)
                    .withoutUndo()));
    output.line(
        "Written to "
            + Output.shown(file)
            + ": "
            + report.items().size()
            + " that end, "
            + report.due().size()
            + " of them due");
  }
}
