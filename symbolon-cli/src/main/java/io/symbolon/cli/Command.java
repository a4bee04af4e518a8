package io.symbolon.cli;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * The commands. What a command needs is loaded when it is run and not before, so that a small one
 * starts fast.
 */
enum Command implements Work {
  SURVEY("what files or folders hold, how it fits together, what is wrong, and what to do next"),
  JOIN("one credential out of a pile of files: key, certificate and chain in one keystore or file"),
  TRUSTSTORE("a truststore out of a pile of files: certificates only, never a key"),
  REQUEST("a new key and a certificate signing request, checked against the receiver's rules"),
  AUTHORITY("a private certificate authority: found one, sign requests, issue credentials, revoke"),
  CONVERT("the same content in another format, whole or in part"),
  REHEARSE("whether a server's files and a client's files will accept each other"),
  PROBE("what a running server does in a handshake, explained"),
  EXPLAIN("what a TLS failure in a log or a stack trace means, and what mends it"),
  UNDO("the files back as they were before a command replaced them"),
  DEMO("the whole story on made-up data, with a real server");

  private final String gives;

  Command(String gives) {
    this.gives = gives;
  }

  @Override
  public String gives() {
    return gives;
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
      case SURVEY -> SurveyCommand.spec();
      case JOIN -> JoinCommand.spec();
      case TRUSTSTORE -> TruststoreCommand.spec();
      case REQUEST -> RequestCommand.spec();
      case AUTHORITY -> CommandSpec.of(this).none();
      case CONVERT -> ConvertCommand.spec();
      case REHEARSE -> RehearseCommand.spec();
      case PROBE -> ProbeCommand.spec();
      case EXPLAIN -> ExplainCommand.spec();
      case UNDO -> UndoCommand.spec();
      case DEMO -> DemoCommand.spec();
    };
  }

  @Override
  public int run(Invocation invocation) {
    return switch (this) {
      case SURVEY -> SurveyCommand.run(invocation);
      case JOIN -> JoinCommand.run(invocation);
      case TRUSTSTORE -> TruststoreCommand.run(invocation);
      case REQUEST -> RequestCommand.run(invocation);
      case AUTHORITY -> ExitCode.USAGE;
      case CONVERT -> ConvertCommand.run(invocation);
      case REHEARSE -> RehearseCommand.run(invocation);
      case PROBE -> ProbeCommand.run(invocation);
      case EXPLAIN -> ExplainCommand.run(invocation);
      case UNDO -> UndoCommand.run(invocation);
      case DEMO -> DemoCommand.run(invocation);
    };
  }
}
