// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.RenewalWindow;
import io.symbolon.acme.folder.Standing;
import io.symbolon.cli.document.FindingDocument;
import io.symbolon.cli.document.RenewDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.Lifetime;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.apache.commons.cli.ParseException;

/** {@code symbolon renew}. */
public final class RenewCommand {
  private RenewCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .none()
        .value("account", "FOLDER", "The folder of the account, as order has made it.")
        .value(
            "within",
            "TIME",
            "Renew what ends within this time, such as 30d; otherwise what has a third of its life"
                + " left, or what the authority wants to be renewed.")
        .unlock()
        .common();
  }

  /** What became of one certificate. */
  enum Outcome {
    RENEWED,
    NOT_DUE,
    FAILED;

    String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  private record Renewed(
      Standing standing, Outcome outcome, Optional<Certificate> now, Optional<Instant> due) {}

  public static int run(Invocation invocation, GivenOptions given) {
    Optional<Lifetime> within = given.value("within").map(Lifetime::parse);
    OrderAccount account =
        OrderAccount.open(invocation, OrderAccount.Wish.of(given, Optional.empty()));
    List<Finding> findings = new ArrayList<>();
    List<Renewed> all =
        account
            .folder()
            .holding(
                () -> {
                  List<Renewed> each = new ArrayList<>();
                  for (Standing one : account.folder().standings()) {
                    each.add(renew(invocation, account, one, within, findings));
                  }
                  return each;
                });
    findings.addAll(invocation.notices());
    if (invocation.output().isJson()) {
      invocation.output().json(document(invocation.output(), account, all, findings));
    } else {
      print(invocation.output(), all, findings);
    }
    return Finding.anyProblem(findings) ? ExitCode.PROBLEM : ExitCode.DONE;
  }

  /** One that fails does not stop the others. */
  private static Renewed renew(
      Invocation invocation,
      OrderAccount account,
      Standing standing,
      Optional<Lifetime> within,
      List<Finding> findings) {
    Optional<Certificate> before = standing.certificate();
    Optional<Instant> due = Optional.empty();
    try {
      due = before.map(one -> due(invocation, account, one, within));
      Instant now = invocation.session().clock().instant();
      if (standing.order().isEmpty() && due.filter(moment -> moment.isAfter(now)).isPresent()) {
        return new Renewed(standing, Outcome.NOT_DUE, before, due);
      }
      OrderJob job = job(account, standing);
      OrderWork.Done done = new OrderWork(invocation, account, job).run(standing);
      done.findings().stream().filter(one -> one.level() == Level.PROBLEM).forEach(findings::add);
      return new Renewed(standing, Outcome.RENEWED, Optional.of(done.certificate()), due);
    } catch (SymbolonException e) {
      findings.add(
          Finding.of(
              FindingKind.RENEWAL_FAILED,
              standing.name(),
              e.statement() + " " + e.seen(),
              e.remedy()));
      return new Renewed(standing, Outcome.FAILED, before, due);
    }
  }

  /** From when on it is due: as was said, as the authority wants, or with a third of its life. */
  private static Instant due(
      Invocation invocation,
      OrderAccount account,
      Certificate certificate,
      Optional<Lifetime> within) {
    if (within.isPresent()) {
      Instant now = invocation.session().clock().instant();
      Duration time = Duration.between(now, within.get().from(now));
      return certificate.notAfter().minus(time);
    }
    return RenewalWindow.due(certificate, account.remote().authority().renewal(certificate));
  }

  /** The settings with which it was obtained. */
  private static OrderJob job(OrderAccount account, Standing standing) {
    List<String> typed = new ArrayList<>(standing.options());
    typed.add("--account");
    typed.add(account.folder().folder().toString());
    try {
      return OrderJob.of(
          new GivenOptions(
              OrderCommand.spec(StoredOrder.ORDER).parse(typed.toArray(String[]::new))));
    } catch (ParseException e) {
      throw Usage.wrong(
          "What is written down of " + VisibleText.of(standing.name()) + " is damaged.",
          "Order it again with the same --into.");
    }
  }

  private static void print(Output output, List<Renewed> all, List<Finding> findings) {
    Paint paint = output.paint();
    for (Renewed one : all) {
      if (one.outcome() != Outcome.NOT_DUE) {
        String until = one.now().map(c -> ", until " + HoldingText.day(c.notAfter())).orElse("");
        output.line(
            (one.outcome() == Outcome.RENEWED
                    ? paint.good("renewed")
                    : paint.level(Level.PROBLEM, "not renewed"))
                + "  "
                + VisibleText.of(one.standing().name())
                + until
                + paint.faint("  " + VisibleText.of(OrderWork.place(one.standing()))));
      }
    }
    if (!findings.isEmpty()) {
      new FindingsSection(output).print(findings);
    }
  }

  private static RenewDocument document(
      Output output, OrderAccount account, List<Renewed> all, List<Finding> findings) {
    return new RenewDocument(
        "renew",
        account.folder().folder().toString(),
        all.stream()
            .map(
                one ->
                    new RenewDocument.RenewedCertificate(
                        one.standing().name(),
                        OrderWork.place(one.standing()),
                        one.outcome().word(),
                        one.now().map(c -> c.notAfter().toString()),
                        one.due().map(Instant::toString)))
            .toList(),
        FindingDocument.all(findings, output.commands()));
  }

  /** An order as it was written down, which is parsed and nothing else. */
  private enum StoredOrder implements CommandAction {
    ORDER;

    @Override
    public String words() {
      return "order";
    }

    @Override
    public String purpose() {
      return "";
    }

    @Override
    public CommandSpec spec() {
      return OrderCommand.spec(this);
    }

    @Override
    public int run(Invocation invocation, GivenOptions given) {
      return OrderCommand.run(invocation, given);
    }
  }
}
