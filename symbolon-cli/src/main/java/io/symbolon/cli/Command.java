// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.compare.CompareCommand;
import io.symbolon.cli.configure.ConfigureCommand;
import io.symbolon.cli.due.DueCommand;
import io.symbolon.cli.files.ConvertCommand;
import io.symbolon.cli.files.JoinCommand;
import io.symbolon.cli.files.TruststoreCommand;
import io.symbolon.cli.files.UndoCommand;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.order.OrderCommand;
import io.symbolon.cli.order.RenewCommand;
import io.symbolon.cli.request.RequestCommand;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.survey.SurveyCommand;
import io.symbolon.cli.tls.ExplainCommand;
import io.symbolon.cli.tls.ProbeCommand;
import io.symbolon.cli.tls.RehearseCommand;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * The commands. What a command needs is loaded when it is run and not before, so that a small one
 * starts fast.
 */
enum Command implements CommandAction {
  SURVEY("Shows what files or folders hold, how it fits together, what is wrong, and what to do"),
  COMPARE("Shows two files or folders side by side: what is the same, renewed, or different"),
  JOIN("Makes one credential from many files: key, certificate and chain in one keystore"),
  TRUSTSTORE("Makes a truststore from many files: certificates only, never a key"),
  REQUEST("Makes a new key and a certificate signing request, and checks the receiver's rules"),
  AUTHORITY(
      "Runs a private certificate authority: found, sign, issue, serve, revoke, records, list"),
  CONVERT("Writes the same content in another format, all of it or a part"),
  REHEARSE("Tells whether a server's files and a client's files will accept each other"),
  PROBE("Shows and explains what a running server does in a handshake"),
  EXPLAIN("Explains a TLS failure in a log or a stack trace, and tells what mends it"),
  CONFIGURE("Shows a server's TLS settings; changes them, proves the change, or puts it back"),
  ORDER("Orders a certificate from an authority that answers the automatic protocol (RFC 8555)"),
  DUE("Shows everything that ends, soonest first: files, stores, running servers"),
  RENEW("Renews what is due: in place what was ordered, and requests for what a person signs"),
  UNDO("Brings files back as they were before a command replaced them"),
  DEMO("Runs the whole story on made-up data, with a real server");

  private final String purpose;

  Command(String purpose) {
    this.purpose = purpose;
  }

  @Override
  public String purpose() {
    return purpose;
  }

  @Override
  public String words() {
    return word();
  }

  String word() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }

  static List<String> names() {
    return Arrays.stream(values()).map(Command::word).toList();
  }

  static Optional<Command> find(String word) {
    return Arrays.stream(values()).filter(command -> command.word().equals(word)).findFirst();
  }

  @Override
  public CommandSpec spec() {
    return switch (this) {
      case SURVEY -> SurveyCommand.spec(this);
      case COMPARE -> CompareCommand.spec(this);
      case JOIN -> JoinCommand.spec(this);
      case TRUSTSTORE -> TruststoreCommand.spec(this);
      case REQUEST -> RequestCommand.spec(this);
      case AUTHORITY -> CommandSpec.of(this).none();
      case CONVERT -> ConvertCommand.spec(this);
      case REHEARSE -> RehearseCommand.spec(this);
      case PROBE -> ProbeCommand.spec(this);
      case EXPLAIN -> ExplainCommand.spec(this);
      case CONFIGURE -> ConfigureCommand.spec(this);
      case ORDER -> OrderCommand.spec(this);
      case DUE -> DueCommand.spec(this);
      case RENEW -> RenewCommand.spec(this);
      case UNDO -> UndoCommand.spec(this);
      case DEMO -> DemoCommand.spec(this);
    };
  }

  @Override
  public int run(Invocation invocation, GivenOptions given) {
    return switch (this) {
      case SURVEY -> SurveyCommand.run(invocation, given);
      case COMPARE -> CompareCommand.run(invocation, given);
      case JOIN -> JoinCommand.run(invocation, given);
      case TRUSTSTORE -> TruststoreCommand.run(invocation, given);
      case REQUEST -> RequestCommand.run(invocation, given);
      case AUTHORITY -> ExitCode.USAGE;
      case CONVERT -> ConvertCommand.run(invocation, given);
      case REHEARSE -> RehearseCommand.run(invocation, given);
      case PROBE -> ProbeCommand.run(invocation, given);
      case EXPLAIN -> ExplainCommand.run(invocation, given);
      case CONFIGURE -> ConfigureCommand.run(invocation, given);
      case ORDER -> OrderCommand.run(invocation, given);
      case DUE -> DueCommand.run(invocation, given);
      case RENEW -> RenewCommand.run(invocation, given);
      case UNDO -> UndoCommand.run(invocation, given);
      case DEMO -> DemoCommand.run(invocation, given);
    };
  }
}
