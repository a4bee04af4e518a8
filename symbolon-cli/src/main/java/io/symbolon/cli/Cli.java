package io.symbolon.cli;

import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import java.util.Arrays;
import java.util.List;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ParseResult;

/** Finds the command, parses its options, runs it, and turns what goes wrong into exit codes. */
final class Cli {
  private final Session session;

  Cli(Session session) {
    this.session = session;
  }

  /** Runs the command line and returns the exit code. */
  int run(String... arguments) {
    try {
      return dispatch(arguments);
    } finally {
      session.flush();
    }
  }

  private int dispatch(String[] arguments) {
    if (arguments.length == 0) {
      Help.overview(session.err());
      return ExitCode.USAGE;
    }
    String first = arguments[0];
    if (first.equals("help") || first.equals("--help") || first.equals("-h")) {
      if (arguments.length > 1 && Command.find(arguments[1]).isPresent()) {
        return help(Command.find(arguments[1]).get());
      }
      Help.overview(session.out());
      return ExitCode.DONE;
    }
    if (first.equals("--version") || first.equals("-V")) {
      session.out().println("symbolon " + Help.version());
      return ExitCode.DONE;
    }
    return Command.find(first)
        .map(command -> run(command, Arrays.copyOfRange(arguments, 1, arguments.length)))
        .orElseGet(() -> unknown(first));
  }

  private int unknown(String name) {
    session.err().println("symbolon: there is no command '" + VisibleText.of(name) + "'.");
    session.err().println("Commands: " + String.join(", ", Command.names()) + ".");
    session.err().println("To do: see symbolon --help.");
    return ExitCode.USAGE;
  }

  private int help(Command command) {
    session.out().print(new CommandLine(command.spec()).getUsageMessage(Help.plain()));
    return ExitCode.DONE;
  }

  private int run(Command command, String[] arguments) {
    ParseResult parsed;
    try {
      CommandLine line = new CommandLine(command.spec());
      line.setExpandAtFiles(false);
      line.setTrimQuotes(false);
      parsed = line.parseArgs(arguments);
    } catch (ParameterException e) {
      return Usage.report(session, command.spec(), e);
    }
    if (parsed.hasMatchedOption("--help")) {
      return help(command);
    }
    Output output = Output.of(session, parsed);
    try (Invocation invocation = new Invocation(session, parsed, output)) {
      return command.run(invocation);
    } catch (SymbolonException e) {
      return failed(command, output, e, Options.isVerbose(parsed));
    } catch (RuntimeException | StackOverflowError | OutOfMemoryError e) {
      return defect(command, e, Options.isVerbose(parsed));
    }
  }

  private int failed(Command command, Output output, SymbolonException e, boolean verbose) {
    session.out().flush();
    session.err().println("symbolon " + command.word() + ": " + e.statement());
    session.err().println("Seen: " + e.seen());
    session.err().println("To do: " + e.remedy());
    if (verbose) {
      e.printStackTrace(session.err());
    }
    if (output.isJson()) {
      output.json(new FailureJson(command.word(), e));
    }
    return ExitCode.of(e.reason());
  }

  private int defect(Command command, Throwable e, boolean verbose) {
    session.out().flush();
    session
        .err()
        .println("symbolon " + command.word() + ": a defect in Symbolon stopped the command.");
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

  /** The options that every command has. */
  static CommandSpec spec(String name, List<String> description) {
    CommandSpec spec = CommandSpec.create().name("symbolon " + name);
    spec.usageMessage().description(description.toArray(String[]::new)).width(100);
    spec.usageMessage().abbreviateSynopsis(true);
    spec.usageMessage().sortOptions(false);
    return spec;
  }
}
