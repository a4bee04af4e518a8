package io.symbolon.cli;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.HostName;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.CommandLine;

/** One run of a command: its session, its options, its output. Closing it wipes the passwords. */
final class Invocation implements AutoCloseable {
  private final Session session;
  private final CommandLine parsed;
  private final Output output;
  private final List<Secret> secrets = new ArrayList<>();

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

  private List<String> values(String option) {
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

  static SymbolonException usage(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The command line is wrong.", seen, remedy);
  }

  List<HostName> hosts() {
    return values("host").stream().map(HostName::parse).toList();
  }

  /** The passwords of --unlock; asked for once, in the order they were named. */
  List<Secret> unlock() {
    List<Secret> unlock = new ArrayList<>();
    for (String source : values("unlock")) {
      unlock.add(keep(SecretSource.parse("--unlock", source).resolve(session)));
    }
    return unlock;
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
    return seal;
  }

  Survey survey(List<Path> paths, List<Secret> unlock) {
    return surveyor(unlock).survey(paths);
  }

  Surveyor surveyor(List<Secret> unlock) {
    return Surveyor.create()
        .withUnlock(unlock)
        .withClock(session.clock())
        .withProgress(new ProgressLine(session));
  }

  /** The target of --into, after checking that its format can be written. */
  Path into() {
    String into =
        value("into")
            .orElseThrow(
                () ->
                    usage(
                        "It is not said where the result shall go.",
                        "Name the file with --into, such as --into keystore.p12."));
    Path path = path(into);
    String lower = into.toLowerCase(java.util.Locale.ROOT);
    Optional<String> format = value("as");
    if (format.isPresent() && !format.get().equals("pkcs12")) {
      throw usage(
          "The format '" + VisibleText.of(format.get()) + "' is not written by this command yet.",
          "Write PKCS#12 with --as pkcs12; Java servers and most others take it.");
    }
    if (format.isEmpty()
        && !(lower.endsWith(".p12") || lower.endsWith(".pfx") || lower.endsWith(".pkcs12"))) {
      throw usage(
          "The name " + VisibleText.of(into) + " does not tell the format.",
          "End it in .p12, or add --as pkcs12.");
    }
    return path;
  }

  @Override
  public void close() {
    secrets.forEach(Secret::close);
  }
}
