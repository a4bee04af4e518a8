// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import java.io.PrintStream;
import java.io.PrintWriter;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.DefaultParser;
import org.apache.commons.cli.HelpFormatter;
import org.apache.commons.cli.Option;
import org.apache.commons.cli.Options;
import org.apache.commons.cli.ParseException;

/** What a command takes: its arguments and its options. Built once for each run. */
public final class CommandSpec {
  private static final int WIDTH = 100;
  private static final java.util.List<String> TAKES = java.util.List.of("none", "one", "two");

  private final CommandAction work;
  private final Options options = new Options();
  private String argument = "";
  private String argumentText = "";
  private int leastArguments;
  private int mostArguments;

  private CommandSpec(CommandAction work) {
    this.work = work;
  }

  public static CommandSpec of(CommandAction work) {
    return new CommandSpec(work);
  }

  /** The options that it takes, by their long names. */
  public Set<String> optionNames() {
    return options.getOptions().stream().map(Option::getLongOpt).collect(Collectors.toSet());
  }

  /** Takes one or more files. */
  public CommandSpec files(String label, String description) {
    argument = label + "...";
    argumentText = description;
    leastArguments = 1;
    mostArguments = Integer.MAX_VALUE;
    return this;
  }

  /** Takes exactly one argument. */
  public CommandSpec one(String label, String description) {
    argument = label;
    argumentText = description;
    leastArguments = 1;
    mostArguments = 1;
    return this;
  }

  /** Takes exactly two arguments. */
  public CommandSpec two(String label, String description) {
    one(label, description);
    leastArguments = 2;
    mostArguments = 2;
    return this;
  }

  /** Takes no argument. */
  public CommandSpec none() {
    mostArguments = 0;
    return this;
  }

  /** The options that accept a chain which is not proven up to its root. */
  public CommandSpec incompleteChains() {
    flag(
        "unchecked-chain",
        "Accept a chain with signatures that this Java could not check. It is not proven then.");
    return flag("incomplete-chain", "Accept a chain that does not reach a root among the files.");
  }

  /** The options that name the receiver's rules. */
  public CommandSpec rules() {
    value("rules", "FILE", "What the receiver wants to see, in YAML: docs/rules.md.");
    return value(
        "variant", "NAME", "Which variant of the rules, where they have several, such as trial.");
  }

  /** Takes at most one argument. */
  public CommandSpec perhapsOne(String label, String description) {
    one("[" + label + "]", description);
    leastArguments = 0;
    return this;
  }

  /** Takes any number of arguments, or none. */
  public CommandSpec any(String label, String description) {
    argument = "[" + label + "...]";
    argumentText = description;
    leastArguments = 0;
    mostArguments = Integer.MAX_VALUE;
    return this;
  }

  /** An option without a value. */
  public CommandSpec flag(String name, String description) {
    options.addOption(Option.builder().longOpt(name).desc(description).get());
    return this;
  }

  /** An option with a value. */
  public CommandSpec value(String name, String label, String description) {
    options.addOption(
        Option.builder().longOpt(name).hasArg().argName(label).desc(description).get());
    return this;
  }

  /** An option with one value or more behind it. */
  public CommandSpec several(String name, String label, String description) {
    options.addOption(
        Option.builder().longOpt(name).hasArgs().argName(label).desc(description).get());
    return this;
  }

  /** {@code --unlock}, which may be given several times. */
  public CommandSpec unlock() {
    return value(
        "unlock",
        "SOURCE",
        "A password to try on whatever is protected: ask, env=NAME, file=PATH (first line;"
            + " of a folder, each file in it) or empty. May be given several times.");
  }

  /** The options of a command that writes a file. */
  public CommandSpec writing(String example) {
    value("into", "PATH", "Where the result goes, such as " + example + ".");
    value(
        "as",
        "FORMAT",
        "The format of the result; otherwise told from the ending of --into: "
            + DestinationChoice.help()
            + ".");
    value(
        "seal",
        "SOURCE",
        "The password for the result: ask, env=NAME, file=PATH (first line), empty, or new=PATH to"
            + " make a strong one and save it there for its owner only.");
    newPassword();
    value(
        "owner",
        "USER[:GROUP]",
        "The owner of the result; a group may read it as well. Otherwise whoever owns the"
            + " file that it replaces, or you.");
    return flag("replace", "Replace an existing file; the command undo brings the old one back.");
  }

  /** How a new password is made and saved. */
  public CommandSpec newPassword() {
    value(
        "new-length",
        "N",
        "How many characters a new password has: 26 by default, of letters and digits that do not look"
            + " alike.");
    value("new-without", "LETTERS", "Letters and digits that a new password must not have.");
    return flag(
        "no-line-end",
        "Save a new password without a line end, for a program that would take it for a part of the"
            + " password.");
  }

  /** The options of a command that writes private keys. */
  public CommandSpec keyWriting() {
    value(
        "seal-key",
        "SOURCE",
        "A password of their own for the private keys in a keystore, where a program asks for two.");
    flag("unsealed", "Let a private key lie open, in PEM or DER. Its file is its owner's alone.");
    value(
        "key-as",
        "FORM",
        "The form of a private key in PEM or DER: pkcs8 (default), or with --unsealed pkcs1 (RSA)"
            + " or sec1 (EC).");
    return protection();
  }

  /** How a PKCS#12 is protected. */
  public CommandSpec protection() {
    return value(
        "protection",
        "STRENGTH",
        "How a PKCS#12, or a sealed key in PEM or DER, is protected: strong (default); weak, for"
            + " programs that can't open the strong one; pbmac1 (PKCS#12), where a rule asks for it.");
  }

  /** The options that every command has. */
  public CommandSpec common() {
    flag("json", "One JSON document on standard output, and nothing else there.");
    return talking();
  }

  /** The options of a command that only talks to people. */
  public CommandSpec talking() {
    flag("plain", "No colour.");
    flag("verbose", "Say more on standard error; a failure shows where it came from.");
    options.addOption(Option.builder("h").longOpt("help").desc("Show this help.").get());
    return this;
  }

  public CommandLine parse(String[] arguments) throws ParseException {
    return DefaultParser.builder()
        .setAllowPartialMatching(false)
        .setStripLeadingAndTrailingQuotes(false)
        .get()
        .parse(options, arguments);
  }

  /** What is wrong with the number of arguments, or the empty text. */
  public String wrongArguments(int count) {
    if (count < leastArguments) {
      return count == 0
          ? "No " + argument.replace("...", "") + " is given."
          : count + " argument is given; it takes two.";
    }
    return count > mostArguments
        ? count + " arguments are given; it takes " + TAKES.get(mostArguments) + "."
        : "";
  }

  @SuppressWarnings("deprecation") // its successor can not print what stands here
  public void help(PrintStream out) {
    PrintWriter writer = new PrintWriter(out, false, java.nio.charset.StandardCharsets.UTF_8);
    HelpFormatter formatter = new HelpFormatter();
    formatter.setOptionComparator(null);
    formatter.setLongOptSeparator(" ");
    writer.println(
        "symbolon " + work.words() + (argument.isEmpty() ? "" : " " + argument) + " [options]");
    writer.println();
    formatter.printWrapped(writer, WIDTH, work.purpose() + ".");
    writer.println();
    if (!argument.isEmpty()) {
      formatter.printWrapped(
          writer, WIDTH, argument.replaceAll("[.\\[\\]]", "") + ": " + argumentText);
      writer.println();
    }
    formatter.printOptions(writer, WIDTH, options, 2, 3);
    writer.flush();
  }
}
