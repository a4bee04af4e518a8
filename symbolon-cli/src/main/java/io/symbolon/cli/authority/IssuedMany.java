// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.format.Format;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.authority.IssueJob;
import io.symbolon.task.authority.IssueManyJob;
import io.symbolon.task.authority.IssueManyReport;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** {@code symbolon authority issue --list FILE}: many credentials, each in a file of its own. */
final class IssuedMany {
  private IssuedMany() {}

  static int run(Invocation invocation, GivenOptions given) {
    Output output = invocation.output();
    IssueManyReport report =
        job(given).run(invocation.task(), (done, all) -> progress(invocation.session(), done, all));
    if (output.isJson()) {
      output.json(document(report));
    } else {
      print(output, report);
    }
    return ExitCode.DONE;
  }

  private static IssueManyJob job(GivenOptions given) {
    Path folder =
        given
            .pathOf("into")
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "No output folder is given.",
                        "Name a folder with --into, such as --into buoys/."));
    Format format = given.value("as").map(DestinationChoice::ofWord).orElse(Format.PKCS12);
    return new IssueManyJob(
        given.by(),
        given.pathOf("list").orElseThrow(),
        given.subject().orElseGet(() -> DistinguishedName.parse("")),
        given.use().orElse(Use.CLIENT),
        given.lasts().orElse(IssueJob.USUAL),
        given.keyKind().orElse(IssueJob.USUAL_KEY),
        folder,
        format,
        passwordFolder(given),
        given.has("with-root"),
        given.unlock(),
        ResultChoice.of(given),
        AuthorityIssue.published(given));
  }

  /** Where every credential gets a password of its own. */
  private static Optional<Path> passwordFolder(GivenOptions given) {
    String seal = given.value("seal").orElse("");
    boolean each = seal.startsWith("new=") && (seal.endsWith("/") || seal.endsWith("\\"));
    if (seal.startsWith("new=") && !each) {
      throw Usage.wrong(
          "One new password for all would have to be given to all.",
          "Say --seal new=FOLDER/ for one each, or --seal file=PATH if one for all is meant.");
    }
    return each ? Optional.of(GivenOptions.path(seal.substring(4))) : Optional.empty();
  }

  private static void progress(Session session, int count, int all) {
    if (!session.errIsTerminal()) {
      return;
    }
    if (count == all) {
      session.err().print("\r\u001B[K");
    } else if (count > 0) {
      session.err().printf("\rissued and written: %,d of %,d", count, all);
    }
    session.err().flush();
  }

  private static void print(Output output, IssueManyReport report) {
    IssueManyJob job = report.job();
    AuthorityFolder from = report.folder();
    Paint paint = output.paint();
    output.line(
        paint.heading("Issued ")
            + HoldingText.count(report.issued().size(), "credential")
            + paint.faint("  by " + HoldingText.name(from.certificate().subject())));
    output.line(
        "  into     "
            + Output.shown(job.folder())
            + paint.faint(
                "  "
                    + job.format().title()
                    + ", one file each, readable by its owner only: "
                    + Output.shown(report.issued().get(0).file().getFileName())
                    + (report.issued().size() > 1 ? ", ..." : "")));
    output.line(
        "  sealed   "
            + job.passwords()
                .map(to -> "each with a new password of its own in " + Output.shown(to))
                .orElse("all with the same password"));
    output.line(
        "  kept     "
            + Output.shown(from.folder())
            + paint.faint("  every certificate is on record there"));
  }

  private static IssueDocument document(IssueManyReport report) {
    return new IssueDocument(
        "authority issue",
        Optional.of(report.folder().folder().toString()),
        Optional.empty(),
        Optional.of(
            report.issued().stream()
                .map(
                    one ->
                        new IssueDocument.ListedCredential(
                            one.subject().toString(),
                            one.file().toString(),
                            one.passwordFile().map(Path::toString)))
                .toList()),
        List.of());
  }
}
