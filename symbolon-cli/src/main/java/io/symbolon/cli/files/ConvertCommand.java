// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.ConvertDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.ContentPart;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.file.Existing;
import io.symbolon.finding.Finding;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
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
        .value("rename", "OLD=NEW", "Give the entry OLD the alias NEW. May be given several times.")
        .flag("with-root", "Keep the root in a chain that is taken with --part.")
        .keyWriting()
        .unlock()
        .common();
  }

  private static String words() {
    return Arrays.stream(ContentPart.values())
        .map(ContentPart::word)
        .collect(Collectors.joining(", "));
  }

  public static int run(Invocation invocation) {
    Destination destination = Destination.of(invocation);
    Existing existing = invocation.has("replace") ? Existing.REPLACE : Existing.KEEP;
    destination.check(existing);
    ConvertOptions options = options(invocation);
    List<Secret> unlock = invocation.unlock();
    return invocation.holding(
        List.of(destination.path()), () -> run(invocation, destination, existing, options, unlock));
  }

  private static int run(
      Invocation invocation,
      Destination destination,
      Existing existing,
      ConvertOptions options,
      List<Secret> unlock) {
    Survey survey = invocation.survey(invocation.paths(), unlock);
    Conversion conversion =
        Conversion.plan(
            survey, options, destination.target(), invocation.keyForm(), destination.shown());
    if (!destination.folder()) {
      conversion.checkOneKey();
    }
    if (conversion.holdsKeys()) {
      destination.checkPrivate(existing);
    }
    Output output = invocation.output();
    if (!output.isJson() && !conversion.findings().isEmpty()) {
      // Before anything is asked or written: what will not be there afterwards.
      output.line(output.paint().heading("Before writing"));
      FindingsText.print(output, conversion.findings());
      output.line("");
      invocation.session().flush();
    }
    WrittenResult result =
        WrittenResult.write(invocation, destination, conversion, existing)
            .with(invocation.notices());
    if (output.isJson()) {
      output.json(document(result, output));
    } else {
      print(output, result);
    }
    return Finding.anyProblem(result.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static ConvertOptions options(Invocation invocation) {
    Set<ContentPart> parts = EnumSet.noneOf(ContentPart.class);
    for (String word : invocation.values("part")) {
      parts.add(
          ContentPart.ofWord(word)
              .orElseThrow(
                  () ->
                      Invocation.usage(
                          "There is no part '" + VisibleText.of(word) + "'.",
                          "Say one of " + words() + ".")));
    }
    Map<String, String> renames = new LinkedHashMap<>();
    for (String rename : invocation.values("rename")) {
      int equals = rename.indexOf('=');
      if (equals < 1 || equals == rename.length() - 1) {
        throw Invocation.usage(
            "'" + VisibleText.of(rename) + "' names no old and new alias.",
            "Say --rename OLD=NEW, such as --rename 1=ingest.");
      }
      renames.put(rename.substring(0, equals), rename.substring(equals + 1));
    }
    return new ConvertOptions(
        parts, invocation.values("alias"), renames, invocation.has("with-root"));
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
        result.findings().stream()
            .filter(finding -> !result.conversion().findings().contains(finding))
            .toList());
  }

  private static ConvertDocument document(WrittenResult result, Output output) {
    return new ConvertDocument(
        "convert",
        result.document(),
        result.entries().stream().map(ConvertDocument.WrittenEntry::of).toList(),
        result.conversion().bundle().requests().size(),
        result.conversion().bundle().publicKeys().size(),
        FindingDocument.all(result.findings(), output.commands()));
  }
}
