// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.ProgressLine;
import io.symbolon.cli.session.Session;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FolderLock;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Rules;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyForm;
import io.symbolon.limit.WorkBudget;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.Option;

/** One run of a command: its session, its options, its output. Closing it wipes the passwords. */
public final class Invocation implements AutoCloseable {
  private final Session session;
  private final CommandAction action;
  private final CommandLine parsed;
  private final Output output;
  private final List<Secret> secrets = new ArrayList<>();
  private final List<Finding> notices = new ArrayList<>();
  private final WorkBudget budget = WorkBudget.full(); // one for all that this command reads
  private @org.jspecify.annotations.Nullable List<Secret> unlocked;

  /**
   * A run.
   *
   * @param action what is run
   * @param parsed its options
   */
  public Invocation(Session session, CommandAction action, CommandLine parsed, Output output) {
    this.session = session;
    this.action = action;
    this.parsed = parsed;
    this.output = output;
  }

  public Session session() {
    return session;
  }

  /** What is run. */
  public CommandAction action() {
    return action;
  }

  /** Tells that the work was not done, and returns what the caller ends with. */
  public int refused(int exitCode, String statement, String seen, String remedy) {
    Usage.failed(session, action, statement, seen, remedy);
    return exitCode;
  }

  public Output output() {
    return output;
  }

  public boolean has(String flag) {
    return parsed.hasOption(flag);
  }

  /** The value of an option that is given at most once. */
  public Optional<String> value(String option) {
    List<String> all = values(option);
    if (all.size() > 1) {
      throw usage("The option --" + option + " is given more than once.", "Give it once.");
    }
    return all.stream().findFirst();
  }

  public List<String> values(String option) {
    String[] all = parsed.getOptionValues(option);
    return all == null ? List.of() : List.of(all);
  }

  /** The one argument of a command that takes one. */
  public String argument() {
    return parsed.getArgList().get(0);
  }

  public List<Path> paths() {
    return parsed.getArgList().stream().map(Invocation::path).toList();
  }

  public List<Path> trustPaths() {
    return values("trust").stream().map(Invocation::path).toList();
  }

  public static Path path(String text) {
    try {
      return Path.of(text);
    } catch (InvalidPathException e) {
      throw usage("'" + VisibleText.of(text) + "' can't be the name of a file.", "Check the name.");
    }
  }

  /** The host that a client asks for. */
  public static HostName oneHost(String text) {
    HostName host = HostName.parse(text);
    if (host.isWildcard()) {
      throw usage("A client asks for one host and not for a wildcard.", "Name a host with --host.");
    }
    return host;
  }

  public static SymbolonException usage(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The command line is wrong.", seen, remedy);
  }

  public List<HostName> hosts() {
    return values("host").stream().map(HostName::parse).toList();
  }

  /** To whom the result shall belong, where that is said. */
  public Optional<Owner> owner() {
    return value("owner").map(Owner::parse);
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

  /**
   * Does something while nobody else changes these files: no other command of Symbolon can read one
   * of them, change it and replace what this one has written in between.
   */
  public <T> T holding(List<Path> files, Supplier<T> work) {
    List<Path> all = new ArrayList<>(files);
    for (String option : List.of("seal", "seal-key")) {
      values(option).stream()
          .filter(source -> source.startsWith("new="))
          .forEach(source -> all.add(path(source.substring(4))));
    }
    return FolderLock.holding(all, work);
  }

  /** The passwords of --unlock; asked for once, in the order they were named. */
  public List<Secret> unlock() {
    List<Secret> known = unlocked;
    if (known == null) {
      known = new ArrayList<>();
      for (String source : values("unlock")) {
        SecretSource parsedSource = SecretSource.parse("--unlock", source);
        known.add(keep(parsedSource.resolve(session)));
        note(parsedSource);
      }
      unlocked = known;
    }
    return known;
  }

  /** What is to be said of the places that passwords came from. */
  public List<Finding> notices() {
    return List.copyOf(notices);
  }

  private void note(SecretSource source) {
    source.exposure().filter(finding -> !notices.contains(finding)).ifPresent(notices::add);
  }

  private Secret keep(Secret secret) {
    secrets.add(secret);
    return secret;
  }

  /** The password for what is written. */
  public SealPassword seal() {
    SecretSource source = SecretSource.parse("--seal", value("seal").orElse("ask"));
    SealPassword seal = source.resolveSeal(session, has("replace"), value("seal").isPresent());
    keep(seal.secret());
    note(source);
    return seal;
  }

  public Survey survey(List<Path> paths, List<Secret> unlock) {
    return surveyor(unlock).survey(paths);
  }

  public Surveyor surveyor(List<Secret> unlock) {
    return Surveyor.create()
        .withUnlock(unlock)
        .withClock(session.clock())
        .withBudget(budget)
        .withProgress(new ProgressLine(session));
  }

  /** The password for the keys in what is written. */
  public SealPassword sealKey() {
    SecretSource source = SecretSource.parse("--seal-key", value("seal-key").orElse("ask"));
    SealPassword seal = source.resolveSeal(session, has("replace"), true);
    keep(seal.secret());
    note(source);
    return seal;
  }

  /** The authority that --by names. */
  public AuthorityFolder authority() {
    return AuthorityFolder.open(
        path(
            value("by")
                .orElseThrow(
                    () ->
                        usage(
                            "No authority is given.",
                            "Name its folder with --by FOLDER; symbolon authority found makes"
                                + " one."))),
        session.clock());
  }

  /** The passwords to try on the key of an authority; one is asked for where none is said. */
  public List<Secret> keyPasswords(AuthorityFolder authority) {
    if (!values("unlock").isEmpty()) {
      return unlock();
    }
    return List.of(
        keep(
            SecretSource.parse("--unlock", "ask")
                .ask(
                    session,
                    "Password of " + HoldingText.name(authority.certificate().subject()))));
  }

  /** All arguments. */
  public List<String> arguments() {
    return parsed.getArgList();
  }

  /** What a certificate shall be for, where it is said. */
  public Optional<Use> use() {
    return value("for")
        .map(
            word ->
                Use.ofWord(word)
                    .orElseThrow(
                        () ->
                            usage(
                                "There is no use '" + VisibleText.of(word) + "'.",
                                "Say server, client or both.")));
  }

  /** The rules of the receiver, where they are given. */
  public Optional<Rules> rules() {
    if (value("rules").isEmpty() && value("variant").isPresent()) {
      throw usage("--variant is said without rules.", "Name their file with --rules.");
    }
    return value("rules").map(file -> RulesFile.read(path(file), value("variant")));
  }

  /** The form that private keys shall have in PEM and DER. */
  public KeyForm keyForm() {
    return switch (value("key-as").orElse("pkcs8")) {
      case "pkcs8" -> KeyForm.PKCS8;
      case "pkcs1" -> unsealed(KeyForm.PKCS1);
      case "sec1" -> unsealed(KeyForm.SEC1);
      default ->
          throw usage(
              "There is no form of private keys '"
                  + VisibleText.of(value("key-as").orElse(""))
                  + "'.",
              "Say pkcs8, pkcs1 or sec1.");
    };
  }

  private KeyForm unsealed(KeyForm form) {
    if (!has("unsealed")) {
      throw usage(
          "A private key as " + form.title() + " can't be sealed.",
          "Add --unsealed if it is to lie open, or leave --key-as out to have it sealed as PKCS#8.");
    }
    return form;
  }

  /** How a PKCS#12 shall be protected. */
  public Pkcs12Strength strength(Format target) {
    Optional<String> word = value("protection");
    if (word.isPresent() && !target.can(Ability.CHOSEN_PROTECTION)) {
      throw usage(
          "--protection is for PKCS#12, and the result is " + target.title() + ".",
          "Leave it out.");
    }
    return switch (word.orElse("strong")) {
      case "strong" -> Pkcs12Strength.STRONG;
      case "weak" -> Pkcs12Strength.WEAK;
      case "pbmac1" -> Pkcs12Strength.PBMAC1;
      default ->
          throw usage(
              "There is no protection '" + VisibleText.of(word.orElse("")) + "'.",
              "Say strong, weak or pbmac1.");
    };
  }

  @Override
  public void close() {
    secrets.forEach(Secret::close);
  }
}
