// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.authority.ServeJob;
import io.symbolon.task.authority.ServedAuthority;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.Optional;

/** {@code symbolon authority serve}. */
final class AuthorityServe {
  private AuthorityServe() {}

  static CommandSpec spec() {
    return CommandSpec.of(AuthorityAction.SERVE)
        .none()
        .value("by", "FOLDER", "The folder of the authority.")
        .value(
            "host",
            "NAME",
            "The name by which clients reach it. Its own certificate, which it issues and renews, is"
                + " for this name.")
        .value(
            "listen", "ADDRESS:PORT", "Where it listens; otherwise on port 8443 of every address.")
        .value(
            "files",
            "ADDRESS:PORT",
            "Where the revocation list and its certificate are served over plain HTTP as well; their"
                + " addresses go into new certificates.")
        .value(
            "allow",
            "HOST",
            "A host that may be ordered; *.DOMAIN for all hosts below it. May be given several times;"
                + " otherwise every host that the authority's constraints permit.")
        .value(
            "account-keys",
            "FILE",
            "Only these keys may have an account: a thumbprint (RFC 7638) in each line.")
        .value(
            "bind-keys",
            "FILE",
            "An account must be bound to one of these: a name and a key in base64url in each line.")
        .value("terms", "URL", "The page with terms that must be agreed to.")
        .value("lasts", "TIME", "How long certificates are valid; 90d by default.")
        .value(
            "records",
            "URL",
            "The database with its records, such as jdbc:postgresql://HOST/NAME; otherwise one in the"
                + " folder. What is in the folder's files is moved into it first.")
        .value("dns", "SERVER[:PORT]", "The name server that is asked; otherwise the system's.")
        .value(
            "hosts",
            "FILE",
            "Addresses of hosts that no DNS knows: an address and its hosts in each line.")
        .value("http-port", "PORT", "The port for a file over HTTP; 80 by default.")
        .value("tls-port", "PORT", "The port for a certificate over TLS; 443 by default.")
        .value("orders-per-account", "N", "How many orders an account may place in an hour; 300.")
        .value(
            "orders-per-address",
            "N",
            "How many orders may be placed from one address in an hour; 3000.")
        .value("orders", "N", "How many orders all may place in an hour; 20000.")
        .value(
            "accounts-per-address",
            "N",
            "How many accounts may be made from one address in an hour; 50.")
        .value("accounts", "N", "How many accounts all may make in an hour; 1000.")
        .value("unlock", "SOURCE", "The password of the authority's key; asked for if not given.")
        .talking();
  }

  static int run(Invocation invocation, GivenOptions given) {
    ServeJob job = ServeOptions.job(given);
    AuthorityServer.PROCESS_SETTINGS.forEach(
        (name, value) -> System.getProperties().putIfAbsent(name, value));
    ServedAuthority served = job.start(invocation.task());
    Thread atExit = new Thread(served::close);
    Runtime.getRuntime().addShutdownHook(atExit);
    tell(invocation.output(), served, job.plan());
    invocation.session().flush();
    Optional<SymbolonException> failure = served.untilItEnds();
    Runtime.getRuntime().removeShutdownHook(atExit);
    served.close();
    if (failure.isPresent()) {
      throw failure.get();
    }
    return ExitCode.DONE;
  }

  private static void tell(Output output, ServedAuthority server, AnswerPlan plan) {
    AuthorityFolder folder = server.folder();
    Paint paint = output.paint();
    Certificate root = folder.chain().get(folder.chain().size() - 1);
    output.line(
        paint.heading("Answers ") + "for " + HoldingText.name(folder.certificate().subject()));
    output.line("  directory  " + server.directory());
    output.line(
        "  listens    "
            + VisibleText.of(server.address().getAddress().getHostAddress())
            + ":"
            + server.address().getPort());
    output.line(
        "  allows     "
            + (plan.allowed().isEmpty()
                ? "every host that its constraints permit"
                : VisibleText.of(String.join(", ", plan.allowed()))));
    output.line("  lasts      " + plan.lasts().title());
    output.line(
        "  root       "
            + HoldingText.name(root.subject())
            + paint.faint("  SHA-256 " + root.sha256()));
    output.line("");
    output.line(paint.heading("Next") + "  order, on another host that has the file of its root");
    output.line(
        "  symbolon order --from "
            + server.directory()
            + " --trust root.pem --account account --host NAME --into NAME.p12 --seal new=NAME.pw");
  }
}
