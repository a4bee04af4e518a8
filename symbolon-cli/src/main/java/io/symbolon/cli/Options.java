package io.symbolon.cli;

import java.util.List;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;
import picocli.CommandLine.ParseResult;

/** The options that commands share: the same name means the same thing everywhere. */
final class Options {
  private Options() {}

  static void files(CommandSpec spec, String label, String description) {
    spec.addPositional(
        PositionalParamSpec.builder()
            .paramLabel(label + "...")
            .arity("1..*")
            .type(List.class)
            .auxiliaryTypes(String.class)
            .description(description)
            .build());
  }

  static void flag(CommandSpec spec, String name, String description) {
    spec.addOption(
        OptionSpec.builder(name).arity("0").type(boolean.class).description(description).build());
  }

  static void value(CommandSpec spec, String name, String label, String description) {
    spec.addOption(
        OptionSpec.builder(name)
            .arity("1")
            .paramLabel(label)
            .type(String.class)
            .description(description)
            .build());
  }

  static void values(CommandSpec spec, String name, String label, String description) {
    spec.addOption(
        OptionSpec.builder(name)
            .arity("1")
            .paramLabel(label)
            .type(List.class)
            .auxiliaryTypes(String.class)
            .description(description)
            .build());
  }

  static void unlock(CommandSpec spec) {
    values(
        spec,
        "--unlock",
        "SOURCE",
        "A password to try on whatever is protected: ask, env=NAME, file=PATH (first line) or empty."
            + " May be given several times.");
  }

  static void writing(CommandSpec spec, String example) {
    value(spec, "--into", "PATH", "Where the result goes, such as " + example + ".");
    value(
        spec,
        "--as",
        "FORMAT",
        "The format of the result: pkcs12. Otherwise told from the ending of --into.");
    value(
        spec,
        "--seal",
        "SOURCE",
        "The password for the result: ask, env=NAME, file=PATH (first line), empty, or new=PATH to"
            + " make a strong one and save it there for its owner only.");
    flag(spec, "--replace", "Replace an existing file; the command undo brings the old one back.");
  }

  static void common(CommandSpec spec) {
    flag(spec, "--json", "One JSON document on standard output, and nothing else there.");
    flag(spec, "--plain", "No colour.");
    flag(spec, "--verbose", "Say more on standard error; a failure shows where it came from.");
    help(spec);
  }

  static void help(CommandSpec spec) {
    spec.addOption(
        OptionSpec.builder("-h", "--help")
            .arity("0")
            .usageHelp(true)
            .type(boolean.class)
            .description("Show this help.")
            .build());
  }

  static boolean isVerbose(ParseResult parsed) {
    return parsed.hasMatchedOption("--verbose");
  }
}
