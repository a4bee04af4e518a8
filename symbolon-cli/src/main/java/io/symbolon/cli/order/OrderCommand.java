// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.cli.document.CertificateDocument;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.OrderDocument;
import io.symbolon.cli.document.WrittenDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.NamesText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.Shell;
import io.symbolon.cli.output.WayBack;
import io.symbolon.cli.output.WrittenText;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.NewFiles;
import io.symbolon.file.Undo;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.task.order.OrderReport;
import io.symbolon.task.order.ShownBy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** {@code symbolon order}. */
public final class OrderCommand {
  private OrderCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .perhapsOne(
            "account",
            "The word account: shows the account of --account, or changes it with --contact, --new-key"
                + " or --give-up.")
        .value(
            "from",
            "URL",
            "The directory of the authority (RFC 8555). Needed once; the account's folder keeps it.")
        .value(
            "account",
            "FOLDER",
            "The folder of the account, which is made where there is none. Everything that lasts is"
                + " in it.")
        .value("host", "NAME", "A host or address that it is for. May be given several times.")
        .value("like", "FILE", "Order for the hosts that a certificate or keystore has.")
        .value("proof", "KIND", OrderChoice.PROOFS)
        .value("dns-key", "FILE", "The key file for updates of the DNS, as name servers have it.")
        .value(
            "trust",
            "FILE",
            "Whom to trust over HTTPS, for a private authority: the file with its root.")
        .value("contact", "ADDRESS", "An e-mail address for the authority.")
        .flag("agree", "You have read the terms of service of the authority and agree to them.")
        .value(
            "bind-id", "NAME", "The name of the key that binds the account to one you have there.")
        .value("bind-key", "SOURCE", "That key: env=NAME or file=PATH.")
        .value(
            "seal-account",
            "SOURCE",
            "The password for the folder of a new account; otherwise a strong one is saved in it.")
        .flag("new-key", "With account: puts another key in the place of the account's.")
        .flag("give-up", "With account: gives it up for good. Its certificates stay valid.")
        .value(
            "forget",
            "NAME",
            "With account: forgets an order that led to nothing, or a certificate that is not to be"
                + " renewed any more, by the name that account shows; or a server that is not to"
                + " get it any more, such as 'nginx ingest.lanternfish.example'.")
        .value("root", "NAME", "The name of the root that the chain shall lead to.")
        .value("key-type", "TYPE", "The kind of key: " + KeyTypes.words() + ". ec-p256 by default.")
        .value("reload", "SERVER", "The server that takes the new files, such as nginx.")
        .value(
            "for",
            "SERVER",
            "The server that is given the certificate, such as nginx: its settings are changed as"
                + " configure does, it is reloaded, and it must show it. Renewals reach it too.")
        .value(
            "then",
            "PROGRAM",
            "A program of your own that is started for this certificate and each renewed one."
                + " docs/automatic.md.")
        .value("home", "PATH", "Where the settings of that server are.")
        .value("site", "NAME", "With --for: which site, connector or listener.")
        .value("port", "PORT", "With --for: the port for TLS; otherwise the one that is there.")
        .value("mode", "MODE", "With --for: who shows a certificate: one-way, mutual or optional.")
        .several(
            "client-trust",
            "FILE...",
            "With --for: whose clients the server is to trust; clients must show a certificate then.")
        .writing("ingest.p12")
        .keyWriting()
        .value("alias", "NAME", "The alias in a keystore.")
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    if (!given.arguments().isEmpty()) {
      return AccountCommand.run(invocation, given);
    }
    if (given.has("new-key") || given.has("give-up") || given.has("forget")) {
      throw Usage.wrong(
          "--new-key, --give-up and --forget are for an account.",
          "Say so: symbolon order account");
    }
    if (OrderQuestions.isUnsaid(given)
        && invocation.session().prompt().isAttended()
        && !invocation.output().isJson()) {
      Optional<GivenOptions> answered = OrderQuestions.ask(invocation, given);
      return answered.isPresent() ? order(invocation, answered.get()) : ExitCode.DONE;
    }
    return order(invocation, given);
  }

  private static int order(Invocation invocation, GivenOptions given) {
    OrderReport done = OrderChoice.job(given).run(invocation.task());
    List<Finding> findings = new ArrayList<>(done.findings());
    findings.addAll(invocation.notices());
    if (invocation.output().isJson()) {
      invocation.output().json(document(invocation.output(), done, findings));
    } else {
      print(invocation.output(), done, findings);
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  private static void print(Output output, OrderReport done, List<Finding> findings) {
    Paint paint = output.paint();
    Certificate certificate = done.certificate();
    output.line(
        paint.heading("Obtained ")
            + VisibleText.of(done.job().hosts().get(0).typed())
            + ", until "
            + HoldingText.day(certificate.notAfter()));
    NamesText.print(output, certificate.alternativeNames());
    output.line("  key      " + certificate.publicKey().description() + paint.faint("  new"));
    String lead = "  chain    ";
    for (Certificate one : done.chain()) {
      output.line(
          lead
              + HoldingText.role(one)
              + "  "
              + HoldingText.name(one.subject())
              + paint.faint("  until " + HoldingText.day(one.notAfter())));
      lead = "           ";
    }
    output.line(
        "  from     "
            + VisibleText.of(done.account().folder().directory().toString())
            + paint.faint(
                (done.account().isNew() ? "  new account in " : "  account in ")
                    + Output.shown(done.account().folder().folder())));
    WrittenText text = new WrittenText(output, done.result());
    text.where(
        done.result().destination().target().isStore()
            ? ", alias '" + HoldingText.plain(done.alias()) + "'"
            : "");
    done.reload()
        .ifPresent(
            told ->
                output.line(
                    "  server   "
                        + told.server()
                        + switch (told.outcome()) {
                          case TAKEN -> paint.good("  has the new files");
                          case NOT_RUNNING -> "  does not run; it reads them when it starts";
                          case NOT_TAKEN -> paint.level(Level.PROBLEM, "  has the old files");
                        }
                        + paint.faint("  " + told.says())));
    done.shownBy().ifPresent(shown -> print(output, shown));
    text.findings(findings);
    output.line("");
    output.line(
        paint.heading("Next")
            + "  renew all of this account when it is due, from a timer (docs/automatic.md)");
    output.line(
        "  "
            + Shell.of(System.getenv())
                .line(
                    List.of(
                        "symbolon",
                        "renew",
                        "--account",
                        done.account().folder().folder().toAbsolutePath().normalize().toString())));
  }

  private static void print(Output output, ShownBy shown) {
    Paint paint = output.paint();
    output.line(
        "  server   "
            + VisibleText.of(shown.server() + ", " + shown.site())
            + (shown.seen()
                ? paint.good("  shows it")
                : paint.level(Level.PROBLEM, "  was not seen to show it"))
            + paint.faint("  " + Output.shown(shown.home())));
    if (!shown.accounts().isEmpty()) {
      output.line("           " + paint.faint("symbolon renew gives it each new certificate too"));
    }
    List<Path> folders =
        shown.written().stream()
            .map(one -> one.path().getParent())
            .distinct()
            .filter(folder -> folder != null && !Undo.versions(folder).isEmpty())
            .toList();
    if (!folders.isEmpty()) {
      List<Path> asides = shown.written().stream().flatMap(one -> one.aside().stream()).toList();
      output.line("  before   " + paint.faint("its settings are kept; this brings them back:"));
      output.pasted(
          "           " + paint.command(output.commands().line(WayBack.of(folders, asides))));
    }
  }

  private static OrderDocument document(Output output, OrderReport done, List<Finding> findings) {
    return new OrderDocument(
        "order",
        done.account().folder().directory().toString(),
        done.account().folder().folder().toString(),
        new OrderDocument.OrderedCredential(
            WrittenDocument.of(done.result()),
            done.alias(),
            CertificateDocument.hosts(done.certificate().alternativeNames()),
            CertificateDocument.all(done.chain())),
        done.reload()
            .map(
                told ->
                    new OrderDocument.ToldServer(
                        told.server(), told.outcome() == NewFiles.Outcome.TAKEN))
            .or(
                () ->
                    done.shownBy()
                        .map(one -> new OrderDocument.ToldServer(one.server(), one.seen()))),
        FindingDocument.all(findings, output.commands()));
  }
}
