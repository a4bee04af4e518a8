// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.ConvertDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.convert.ContentPart;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.finding.Finding;
import io.symbolon.task.convert.ConvertJob;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.text.VisibleText;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** {@code symbolon convert FILE...}. */
public final class ConvertCommand {
  private ConvertCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .files("FILE", "What to convert: any files. Several are put together.")
        .writing("keystore.p12, or folder/ for one file for each object")
        .value(
            "part",
            "PART",
            "What of it: "
                + words()
                + ". Otherwise everything that the format can hold. May be given several times.")
        .value(
            "alias",
            "NAME",
            "Take this entry alone: its alias or common name. May be given several times.")
        .value(
            "leave-out",
            "NAME",
            "Take everything but this entry: its alias, or its common name where no entry has such an"
                + " alias. May be given several times.")
        .value("rename", "OLD=NEW", "Give the entry OLD the alias NEW. May be given several times.")
        .flag("with-root", "Keep the root in a chain that is taken with --part.")
        .keyWriting()
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    WrittenResult result = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(result, output));
    } else {
      print(output, result);
    }
    return Finding.anyProblem(result.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static ConvertJob job(GivenOptions given) {
    ConvertOptions content = content(given);
    return ConvertJob.of(given.paths(), DestinationChoice.of(given))
        .unlock(given.unlock())
        .content(content)
        .result(ResultChoice.of(given))
        .build();
  }

  /** The parts that can be named. */
  private static String words() {
    return Arrays.stream(ContentPart.values())
        .map(ContentPart::word)
        .collect(Collectors.joining(", "));
  }

  private static ConvertOptions content(GivenOptions given) {
    Set<ContentPart> parts = EnumSet.noneOf(ContentPart.class);
    for (String word : given.values("part")) {
      parts.add(
          ContentPart.ofWord(word)
              .orElseThrow(
                  () ->
                      Usage.wrong(
                          "There is no part '" + VisibleText.of(word) + "'.",
                          "Say one of " + words() + ".")));
    }
    Map<String, String> renames = new LinkedHashMap<>();
    for (String rename : given.values("rename")) {
      int equals = rename.lastIndexOf('='); // an old alias may be a whole subject
      if (equals < 1 || equals == rename.length() - 1) {
        throw Usage.wrong(
            "'" + VisibleText.of(rename) + "' names no old and new alias.",
            "Say --rename OLD=NEW, such as --rename 1=ingest.");
      }
      renames.put(rename.substring(0, equals), rename.substring(equals + 1));
    }
    return new ConvertOptions(
        parts, given.values("alias"), given.values("leave-out"), renames, given.has("with-root"));
  }

  private static void print(Output output, WrittenResult result) {
    output.line(
        output.paint().heading("Converted")
            + output
                .paint()
                .faint(
                    "  read again and compared, octet for octet, before "
                        + (result.files().size() == 1
                            ? "it got its name"
                            : "they got their names")));
    WrittenText text = new WrittenText(output, result);
    text.holds();
    text.where("");
    text.findings(
        result.findings().stream().filter(finding -> !result.leftOut().contains(finding)).toList());
  }

  private static ConvertDocument document(WrittenResult result, Output output) {
    return new ConvertDocument(
        "convert",
        WrittenDocument.of(result),
        result.entries().stream().map(ConvertDocument.WrittenEntry::of).toList(),
        result.bundle().requests().size(),
        result.bundle().publicKeys().size(),
        FindingDocument.all(result.findings(), output.commands()));
  }
}
