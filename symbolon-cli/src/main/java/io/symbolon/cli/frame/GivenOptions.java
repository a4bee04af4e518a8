// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.file.Existing;
import io.symbolon.file.Owner;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.join.JoinOptions;
import io.symbolon.key.KeyKind;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.RulesSource;
import io.symbolon.task.SealSource;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.Option;

/**
 * What was typed behind a command. Each command makes its job of it, an immutable value, and looks
 * at it no more.
 */
public final class GivenOptions {
  private final CommandLine parsed;

  public GivenOptions(CommandLine parsed) {
    this.parsed = parsed;
  }

  /** With what is accepted of a chain that is not proven up to its root. */
  public JoinOptions chains(JoinOptions options) {
    JoinOptions chosen = options;
    if (has("unchecked-chain")) {
      chosen = chosen.with(JoinOptions.Unchecked.ACCEPTED);
    }
    return has("incomplete-chain") ? chosen.with(JoinOptions.Incomplete.ACCEPTED) : chosen;
  }

  public boolean has(String option) {
    return parsed.hasOption(option);
  }

  /** The value of an option that is given at most once. */
  public Optional<String> value(String option) {
    List<String> all = values(option);
    if (all.size() > 1) {
      throw Usage.wrong("The option --" + option + " is given more than once.", "Give it once.");
    }
    return all.stream().findFirst();
  }

  public List<String> values(String option) {
    String[] all = parsed.getOptionValues(option);
    return all == null ? List.of() : List.of(all);
  }

  /** All arguments. */
  public List<String> arguments() {
    return List.copyOf(parsed.getArgList());
  }

  /** The one argument of a command that takes one. */
  public String argument() {
    return parsed.getArgList().get(0);
  }

  /** The arguments as paths. */
  public List<Path> paths() {
    return parsed.getArgList().stream().map(GivenOptions::path).toList();
  }

  /** The options again, as they were typed. */
  public List<String> typed() {
    List<String> typed = new ArrayList<>();
    for (Option option : parsed.getOptions()) {
      typed.add("--" + option.getLongOpt());
      typed.addAll(option.getValues() == null ? List.of() : option.getValuesList());
    }
    return typed;
  }

  /** The values of an option as paths. */
  public List<Path> paths(String option) {
    return values(option).stream().map(GivenOptions::path).toList();
  }

  /** The one value of an option as a path. */
  public Optional<Path> pathOf(String option) {
    return value(option).map(GivenOptions::path);
  }

  public static Path path(String text) {
    try {
      return Path.of(text);
    } catch (InvalidPathException e) {
      throw Usage.wrong(
          "'" + VisibleText.of(text) + "' can't be the name of a file.", "Check the name.");
    }
  }

  /** The host that a client asks for. */
  public static HostName oneHost(String text) {
    HostName host = HostName.parse(text);
    if (host.isWildcard()) {
      throw Usage.wrong(
          "A client asks for one host and not for a wildcard.", "Name a host with --host.");
    }
    return host;
  }

  public List<HostName> hosts() {
    return values("host").stream().map(HostName::parse).toList();
  }

  public Optional<DistinguishedName> subject() {
    return value("subject").map(DistinguishedName::parse);
  }

  /** To whom the result shall belong, where that is said. */
  public Optional<Owner> owner() {
    return value("owner").map(Owner::parse);
  }

  /** What to do about files that are there. */
  public Existing existing() {
    return has("replace") ? Existing.REPLACE : Existing.KEEP;
  }

  public Optional<KeyKind> keyKind() {
    return value("key-type").map(KeyTypes::parse);
  }

  public Optional<Lifetime> lasts() {
    return value("lasts").map(Lifetime::parse);
  }

  /** What a certificate shall be for, where it is said. */
  public Optional<Use> use() {
    return value("for")
        .map(
            word ->
                Use.ofWord(word)
                    .orElseThrow(
                        () ->
                            Usage.wrong(
                                "There is no use '" + VisibleText.of(word) + "'.",
                                "Say server, client or both.")));
  }

  /** The rules of the receiver, where they are given. */
  public Optional<RulesSource> rules() {
    if (value("rules").isEmpty() && value("variant").isPresent()) {
      throw Usage.wrong("--variant is given without rules.", "Name their file with --rules.");
    }
    return value("rules").map(file -> new RulesSource(path(file), value("variant")));
  }

  /** The folder of the authority that --by names. */
  public Path by() {
    return value("by")
        .map(GivenOptions::path)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "No authority is given.",
                    "Name its folder with --by FOLDER; symbolon authority found makes one."));
  }

  /** The sources of the passwords to try, in the order they were named. */
  public List<PasswordSource> unlock() {
    return values("unlock").stream()
        .map(source -> PasswordOption.known("--unlock", source))
        .toList();
  }

  /** Where the password for a result comes from that an option names. */
  public Optional<SealSource> seal(String option) {
    return value(option).map(source -> PasswordOption.seal("--" + option, source));
  }

  /** Everything on the command line that is the path of a file, or of one that is to be made. */
  public List<Path> mentioned() {
    List<String> texts = new ArrayList<>(parsed.getArgList());
    for (Option option : parsed.getOptions()) {
      if (option.getValues() != null) {
        texts.addAll(option.getValuesList());
      }
    }
    List<Path> paths = new ArrayList<>();
    for (String text : texts) {
      int equals = text.indexOf('=');
      String name =
          text.startsWith("file=") || text.startsWith("new=") ? text.substring(equals + 1) : text;
      try {
        Path path = Path.of(name);
        paths.add(Files.isDirectory(path) ? path.resolve("any") : path);
      } catch (InvalidPathException e) {
        // no path, then
      }
    }
    return paths;
  }
}
