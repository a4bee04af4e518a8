// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.ConvertDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.cli.write.WrittenText;
import io.symbolon.convert.Conversion;
import io.symbolon.finding.Finding;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import java.util.List;

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
                + ConvertJob.words()
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
    ConvertJob job = ConvertJob.of(given);
    job.destination().check(job.result().existing());
    List<Secret> unlock = invocation.unlock(job.unlock());
    WrittenResult result =
        invocation.holding(
            List.of(job.destination().path()),
            job.result(),
            () -> convert(invocation, job, unlock));
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(result, output));
    } else {
      print(output, result);
    }
    return Finding.anyProblem(result.findings()) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static WrittenResult convert(Invocation invocation, ConvertJob job, List<Secret> unlock) {
    Destination destination = job.destination();
    Survey survey = invocation.survey(job.files(), unlock);
    Conversion conversion =
        Conversion.plan(
            survey,
            job.content(),
            destination.target(),
            job.result().keyForm(),
            destination.shown());
    if (!destination.folder()) {
      conversion.checkOneKey();
    }
    if (conversion.holdsKeys()) {
      destination.checkPrivate(job.result().existing());
    }
    Output output = invocation.output();
    if (!output.isJson() && !conversion.findings().isEmpty()) {
      // Before anything is asked or written: what will not be there afterwards.
      output.line(output.paint().heading("Before writing"));
      FindingsText.print(output, conversion.findings());
      output.line("");
      invocation.session().flush();
    }
    return WrittenResult.write(invocation, job.result(), destination, conversion)
        .with(invocation.notices());
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
