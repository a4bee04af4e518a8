// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.DraftChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.ResultChoice;
import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.task.request.RequestJob;
import io.symbolon.task.request.RequestPlan;
import io.symbolon.task.request.RequestResult;
import java.util.List;
import java.util.Optional;

/** {@code symbolon request}. */
public final class RequestCommand {
  private RequestCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .none()
        .value(
            "subject",
            "DN",
            "For whom, such as 'CN=ingest.lanternfish.example,O=Lanternfish Observatory,C=IS'."
                + " Without it the first host is the common name.")
        .value(
            "host",
            "NAME",
            "A host that it covers: DNS name, wildcard or IP address. May be given several times; the"
                + " common name is among them by itself.")
        .value("email", "ADDRESS", "An e-mail address among the subject alternative names.")
        .value("uri", "URI", "A URI among the subject alternative names.")
        .value("for", "USE", "What for: server (default), client or both.")
        .value(
            "key-type",
            "TYPE",
            "The kind of the new key: "
                + KeyTypes.words()
                + ". Otherwise ec-p256, or the first that"
                + " the rules allow.")
        .value("key", "FILE", "Ask with an existing private key, from any file or keystore.")
        .value(
            "like",
            "FILE",
            "Ask again for what a certificate, keystore or request has; other options replace parts"
                + " of it. With a new key, unless --same-key is given.")
        .flag("same-key", "With --like: keep the private key that is in FILE.")
        .value(
            "lasts",
            "TIME",
            "How long the certificate is valid, such as 397d (default) or 2y. No request can"
                + " say it; a keystore in which the key waits remembers it.")
        .rules()
        .value("into", "PATH", "Where the request goes: PEM, or DER with --as der or .der.")
        .value("as", "FORMAT", "The format of the request: pem (default) or der.")
        .value(
            "key-into",
            "PATH",
            "Where the new private key goes: a file of its own (.key, .pem), or a keystore (.p12,"
                + " .jks) in which it waits under its alias for the reply. Into a keystore that is"
                + " there, it is added with --replace; all else in it is kept.")
        .value("alias", "NAME", "The alias of the key in a keystore.")
        .value(
            "seal",
            "SOURCE",
            "The password for the private key: ask, env=NAME, file=PATH (first line), empty, or"
                + " new=PATH to make a strong one and save it there for its owner only.")
        .newPassword()
        .value(
            "owner",
            "USER[:GROUP]",
            "The owner of the key; a group may read it as well. By default you own it.")
        .flag("replace", "Replace existing files; the command undo brings the old ones back.")
        .keyWriting()
        .unlock()
        .common();
  }

  public static int run(Invocation invocation, GivenOptions given) {
    if (isUnsaid(given)
        && invocation.session().prompt().isAttended()
        && !invocation.output().isJson()) {
      return RequestQuestions.run(invocation, given);
    }
    RequestJob job = job(given);
    return write(invocation, job, job.plan(invocation.task()));
  }

  /** Whether nothing says what to ask for, so that a person can be asked. */
  private static boolean isUnsaid(GivenOptions given) {
    return List.of("subject", "host", "email", "uri", "like", "key").stream().noneMatch(given::has);
  }

  static RequestJob job(GivenOptions given) {
    RequestJob.Builder job = RequestJob.of(DraftChoice.of(given)).unlock(given.unlock());
    given.pathOf("like").ifPresent(job::like);
    given.pathOf("key").ifPresent(job::key);
    if (given.has("same-key")) {
      job.sameKey();
    }
    given.keyKind().ifPresent(job::keyKind);
    given.lasts().ifPresent(job::lasts);
    given.rules().ifPresent(job::rules);
    given.value("as").map(DestinationChoice::ofWord).ifPresent(job::format);
    given
        .value("into")
        .map(text -> DestinationChoice.of(text, given.value("as")))
        .ifPresent(job::into);
    given
        .value("key-into")
        .map(text -> DestinationChoice.of(text, Optional.empty()))
        .ifPresent(job::keyInto);
    given.value("alias").ifPresent(job::alias);
    return job.result(ResultChoice.of(given)).build();
  }

  /** Refuses a plan that breaks a rule, or writes it and tells what was written. */
  static int write(Invocation invocation, RequestJob job, RequestPlan plan) {
    Output output = invocation.output();
    if (plan.isRefused()) {
      if (output.isJson()) {
        output.json(RequestReport.refused(plan, output.commands()));
      } else {
        FindingsText.print(output, plan.findings());
      }
      long count =
          plan.findings().stream()
              .filter(f -> f.level() == io.symbolon.finding.Level.PROBLEM)
              .count();
      return invocation.refused(
          ExitCode.NOT_WRITTEN,
          "the request was not written.",
          HoldingText.count(count, "problem") + ", listed on standard output.",
          "Mend all of them and give the command again.");
    }
    RequestResult result = job.write(invocation.task(), plan);
    RequestReport report = new RequestReport(plan, result);
    if (output.isJson()) {
      output.json(report.document(output.commands()));
    } else {
      report.print(output);
    }
    return ExitCode.DONE;
  }
}
