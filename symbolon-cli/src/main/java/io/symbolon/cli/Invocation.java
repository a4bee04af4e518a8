package io.symbolon.cli;

import io.symbolon.convert.Target;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FolderLock;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Rules;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyForm;
import io.symbolon.limit.WorkBudget;
import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12Strength;
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
final class Invocation implements AutoCloseable {
  private final Session session;
  private final CommandLine parsed;
  private final Output output;
  private final List<Secret> secrets = new ArrayList<>();
  private final List<Finding> notices = new ArrayList<>();
  private final WorkBudget budget = WorkBudget.full(); // one for all that this command reads
  private @org.jspecify.annotations.Nullable List<Secret> unlocked;

  Invocation(Session session, CommandLine parsed, Output output) {
    this.session = session;
    this.parsed = parsed;
    this.output = output;
  }

  Session session() {
    return session;
  }

  Output output() {
    return output;
  }

  boolean has(String flag) {
    return parsed.hasOption(flag);
  }

  /** The value of an option that is given at most once. */
  Optional<String> value(String option) {
    List<String> all = values(option);
    if (all.size() > 1) {
      throw usage("The option --" + option + " is given more than once.", "Give it once.");
    }
    return all.stream().findFirst();
  }

  List<String> values(String option) {
    String[] all = parsed.getOptionValues(option);
    return all == null ? List.of() : List.of(all);
  }

  /** The one argument of a command that takes one. */
  String argument() {
    return parsed.getArgList().get(0);
  }

  List<Path> paths() {
    return parsed.getArgList().stream().map(Invocation::path).toList();
  }

  List<Path> trustPaths() {
    return values("trust").stream().map(Invocation::path).toList();
  }

  static Path path(String text) {
    try {
      return Path.of(text);
    } catch (InvalidPathException e) {
      throw usage("'" + VisibleText.of(text) + "' can't be the name of a file.", "Check the name.");
    }
  }

  /** The host that a client asks for. */
  static HostName oneHost(String text) {
    HostName host = HostName.parse(text);
    if (host.isWildcard()) {
      throw usage("A client asks for one host and not for a wildcard.", "Name a host with --host.");
    }
    return host;
  }

  static SymbolonException usage(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The command line is wrong.", seen, remedy);
  }

  List<HostName> hosts() {
    return values("host").stream().map(HostName::parse).toList();
  }

  /** To whom the result shall belong, where that is said. */
  Optional<Owner> owner() {
    return value("owner").map(Owner::parse);
  }

  /** Everything on the command line that is the path of a file, or of one that is to be made. */
  List<Path> mentioned() {
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
  <T> T holding(List<Path> files, Supplier<T> work) {
    List<Path> all = new ArrayList<>(files);
    for (String option : List.of("seal", "seal-key")) {
      values(option).stream()
          .filter(source -> source.startsWith("new="))
          .forEach(source -> all.add(path(source.substring(4))));
    }
    return FolderLock.holding(all, work);
  }

  /** The passwords of --unlock; asked for once, in the order they were named. */
  List<Secret> unlock() {
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
  List<Finding> notices() {
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
  Seal seal() {
    SecretSource source = SecretSource.parse("--seal", value("seal").orElse("ask"));
    Seal seal = source.resolveSeal(session, has("replace"), value("seal").isPresent());
    keep(seal.secret());
    note(source);
    return seal;
  }

  Survey survey(List<Path> paths, List<Secret> unlock) {
    return surveyor(unlock).survey(paths);
  }

  Surveyor surveyor(List<Secret> unlock) {
    return Surveyor.create()
        .withUnlock(unlock)
        .withClock(session.clock())
        .withBudget(budget)
        .withProgress(new ProgressLine(session));
  }

  /** The password for the keys in what is written. */
  Seal sealKey() {
    SecretSource source = SecretSource.parse("--seal-key", value("seal-key").orElse("ask"));
    Seal seal = source.resolveSeal(session, has("replace"), true);
    keep(seal.secret());
    note(source);
    return seal;
  }

  /** The authority that --by names. */
  AuthorityFolder authority() {
    return AuthorityFolder.open(
        path(
            value("by")
                .orElseThrow(
                    () ->
                        usage(
                            "It is not said which authority is meant.",
                            "Name its folder with --by FOLDER; symbolon authority found makes"
                                + " one."))),
        session.clock());
  }

  /** The passwords to try on the key of an authority; one is asked for where none is said. */
  List<Secret> keyPasswords(AuthorityFolder authority) {
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
  List<String> arguments() {
    return parsed.getArgList();
  }

  /** What a certificate shall be for, where it is said. */
  Optional<Use> use() {
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
  Optional<Rules> rules() {
    if (value("rules").isEmpty() && value("variant").isPresent()) {
      throw usage("--variant is said without rules.", "Name their file with --rules.");
    }
    return value("rules").map(file -> RulesFile.read(path(file), value("variant")));
  }

  /** The form that private keys shall have in PEM and DER. */
  KeyForm keyForm() {
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
          "Add --unsealed if it shall lie open, or leave --key-as out to have it sealed as PKCS#8.");
    }
    return form;
  }

  /** How a PKCS#12 shall be protected. */
  Pkcs12Strength strength(Target target) {
    Optional<String> word = value("protection");
    if (word.isPresent() && target != Target.PKCS12) {
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
