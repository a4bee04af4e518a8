// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.cli.authority.AuthorityAction;
import io.symbolon.cli.document.FailureDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.ToldFailure;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Leftovers;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.ParseException;

/** Finds the command, parses its options, runs it, and turns what goes wrong into exit codes. */
final class Cli {
  private final Session session;

  Cli(Session session) {
    this.session = session;
  }

  /** Runs the command line and returns the exit code. */
  int run(String... arguments) {
    int code;
    try {
      code = dispatch(arguments);
    } finally {
      session.flush();
    }
    Optional<String> lost = session.outputFailure();
    return lost.isPresent() ? lost(lost.get(), code) : code;
  }

  /** What could not be told is not done, for whoever waits for it. */
  private int lost(String why, int code) {
    if (!why.contains("Broken pipe")) { // whoever reads had enough, which is no surprise to them
      session.err().println("symbolon: not all of the output was written.");
      session.err().println("Seen: the system says: " + VisibleText.of(why) + ".");
      session
          .err()
          .println(
              "To do: make room where the output goes. The command itself was carried out: look at"
                  + " its result before you give it again.");
      session.err().flush();
    }
    return code == ExitCode.DONE || code == ExitCode.PROBLEM ? ExitCode.NOT_WRITTEN : code;
  }

  private int dispatch(String[] arguments) {
    if (arguments.length == 0) {
      Help.overview(session.err());
      return ExitCode.USAGE;
    }
    String first = arguments[0];
    if (first.equals("help") || first.equals("--help") || first.equals("-h")) {
      if (arguments.length > 1 && Command.find(arguments[1]).isPresent()) {
        return help(
            Command.find(arguments[1]).get(), Arrays.copyOfRange(arguments, 2, arguments.length));
      }
      Help.overview(session.out());
      return ExitCode.DONE;
    }
    if (first.equals("--version") || first.equals("-V")) {
      session.out().println("symbolon " + Help.version());
      return ExitCode.DONE;
    }
    return Command.find(first)
        .map(command -> command(command, Arrays.copyOfRange(arguments, 1, arguments.length)))
        .orElseGet(() -> unknown(first));
  }

  private int unknown(String name) {
    session.err().println("symbolon: there is no command '" + VisibleText.of(name) + "'.");
    session.err().println("Seen: the commands are " + String.join(", ", Command.names()) + ".");
    session.err().println("To do: see symbolon --help.");
    return ExitCode.USAGE;
  }

  private int help(Command command, String[] rest) {
    return help(
        command == Command.AUTHORITY && rest.length > 0
            ? AuthorityAction.find(rest[0]).map(CommandAction.class::cast).orElse(command)
            : command);
  }

  /** A command, or the action that its first argument names. */
  private int command(Command command, String[] arguments) {
    if (command != Command.AUTHORITY) {
      return run(command, arguments);
    }
    Optional<AuthorityAction> action =
        Arrays.stream(arguments).findFirst().flatMap(AuthorityAction::find);
    if (action.isPresent()) {
      return run(action.get(), Arrays.copyOfRange(arguments, 1, arguments.length));
    }
    boolean asked =
        arguments.length > 0 && (arguments[0].equals("--help") || arguments[0].equals("-h"));
    AuthorityAction.help(asked ? session.out() : session.err(), command);
    return asked ? ExitCode.DONE : ExitCode.USAGE;
  }

  private int help(CommandAction command) {
    if (command == Command.AUTHORITY) {
      AuthorityAction.help(session.out(), command);
      return ExitCode.DONE;
    }

    command.spec().help(session.out());
    return ExitCode.DONE;
  }

  private int run(CommandAction command, String[] arguments) {
    CommandSpec spec = command.spec();
    CommandLine parsed;
    try {
      parsed = spec.parse(arguments);
    } catch (ParseException e) {
      return Usage.report(session, command, e);
    }
    if (parsed.hasOption("help")) {
      return help(command);
    }
    String wrong = spec.wrongArguments(parsed.getArgList().size());
    if (!wrong.isEmpty()) {
      return Usage.report(session, command, wrong, "see symbolon " + command.words() + " --help.");
    }
    Output output = Output.of(session, parsed, spec.optionNames());
    try (Invocation invocation = new Invocation(session, command, output)) {
      GivenOptions given = new GivenOptions(parsed);
      for (Path folder : Leftovers.unfinished(given.mentioned())) {
        session
            .err()
            .println(
                "symbolon: note: A command that was killed has left its work in "
                    + Output.shown(folder)
                    + " unfinished. The next command that writes there finishes it, or takes it back.");
      }
      return command.run(invocation, given);
    } catch (SymbolonException e) {
      return failed(command, output, e, parsed.hasOption("verbose"));
    } catch (RuntimeException | VirtualMachineError | LinkageError e) {
      return defect(command, e, parsed.hasOption("verbose"));
    }
  }

  private int failed(
      CommandAction command, Output output, SymbolonException failure, boolean verbose) {
    SymbolonException e = ToldFailure.of(failure);
    Usage.failed(session, command, e.statement(), e.seen(), output.commands(), e.remedy());
    if (verbose) {
      failure.printStackTrace(session.err());
    }
    if (output.isJson()) {
      output.json(FailureDocument.of(command.words(), e, output.commands()));
    }
    return ExitCode.of(e.reason());
  }

  private int defect(CommandAction command, Throwable e, boolean verbose) {
    session.out().flush();
    session
        .err()
        .println("symbolon " + command.words() + ": a defect in Symbolon stopped the command.");
    session.err().println("Seen: " + e.getClass().getName() + at(e));
    session.err().println("To do: report this with the output of the same command and --verbose.");
    if (verbose) {
      e.printStackTrace(session.err());
    }
    return ExitCode.DEFECT;
  }

  private static String at(Throwable e) {
    return Arrays.stream(e.getStackTrace())
        .filter(frame -> frame.getClassName().startsWith("io.symbolon"))
        .findFirst()
        .map(frame -> " at " + frame)
        .orElse("");
  }
}
