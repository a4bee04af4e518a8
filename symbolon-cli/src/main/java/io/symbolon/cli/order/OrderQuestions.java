// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.Dialogue;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.PasswordOption;
import io.symbolon.cli.frame.Question;
import io.symbolon.cli.frame.Question.Remark;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.order.OrderJob;
import io.symbolon.task.order.Proofs;
import io.symbolon.task.result.Destination;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** Asks a person for each part of an order: from whom, for which hosts, how proven, where to. */
final class OrderQuestions {
  private final Invocation invocation;
  private final Output output;
  private final OrderAnswers answers;
  private final Dialogue dialogue;

  private OrderQuestions(Invocation invocation, GivenOptions given) {
    this.invocation = invocation;
    this.output = invocation.output();
    this.answers = new OrderAnswers(given, invocation.action().spec());
    this.dialogue = new Dialogue(invocation, "order", answers.kept(), this::commandLine);
  }

  /** Whether nothing is said of what shall be ordered. */
  static boolean isUnsaid(GivenOptions given) {
    return given.hosts().isEmpty() && !given.has("like") && !given.has("into");
  }

  /** What was answered, after a yes; nothing after a no. */
  static Optional<GivenOptions> ask(Invocation invocation, GivenOptions given) {
    return new OrderQuestions(invocation, given).run();
  }

  private Optional<GivenOptions> run() {
    dialogue.begin("A certificate from an authority that answers by itself, part by part");
    while (true) {
      Optional<Question> question = next();
      if (question.isPresent()) {
        dialogue.ask(question.get());
        continue;
      }
      OrderJob job;
      try {
        job = OrderChoice.job(answers.options());
      } catch (SymbolonException e) {
        dialogue.tell(e);
        if (!answers.kept().takeBack()) {
          throw e;
        }
        continue;
      }
      show(job);
      switch (dialogue.agreed("Order it?")) {
        case BACK -> {
          boolean unused = answers.kept().takeBack();
        }
        case YES -> {
          return Optional.of(answers.options());
        }
        case NO -> {
          output.line("Nothing was ordered.");
          return Optional.empty();
        }
      }
    }
  }

  private void show(OrderJob job) {
    output.line("");
    output.line(output.paint().heading("This will be ordered"));
    String lead = "  for      ";
    for (HostName host : job.hosts()) {
      output.line(lead + VisibleText.of(host.typed()));
      lead = "           ";
    }
    output.line(
        "  from     "
            + (answers.of("from").isEmpty()
                ? "the authority of the account"
                : VisibleText.of(answers.of("from"))));
    output.line("  account  " + Output.shown(GivenOptions.path(answers.of("account"))));
    lead = "  proven   ";
    for (String title : job.proofs().titles(invocation.session().clock())) {
      output.line(lead + VisibleText.of(title));
      lead = "           ";
    }
    output.line("  into     " + job.destination().shown());
    job.server().ifPresent(server -> output.line("  server   " + server.name()));
    dialogue.showCommand();
  }

  private String commandLine() {
    return "symbolon order " + output.commands().shell().line(answers.arguments());
  }

  private Optional<Question> next() {
    return authority().or(this::hosts).or(this::proof).or(this::files);
  }

  private Optional<Question> authority() {
    if (answers.isOpen("account")) {
      return question(
          "account",
          "Folder of the account",
          "Everything that lasts is in it. It is made where there is none.",
          "account",
          text -> {
            GivenOptions.path(filled(text));
            return List.of();
          });
    }
    boolean there = AccountFolder.isOne(GivenOptions.path(answers.of("account")));
    if (there) {
      return Optional.empty();
    }
    if (answers.isOpen("from")) {
      return question(
          "from",
          "Directory of the authority",
          "Its address, which begins with https://; whoever runs the authority tells it.",
          "",
          text -> {
            var unused = OrderChoice.directory(answers.with("from", filled(text)).options());
            return List.of();
          });
    }
    if (answers.isOpen("trust")) {
      return question(
          "trust",
          "File with its root",
          "For a private authority; empty where Java trusts it anyway.",
          "",
          text ->
              text.isEmpty() || Files.isReadable(GivenOptions.path(text))
                  ? List.of()
                  : List.of(new Remark("There is no such file, or you may not read it.", true)));
    }
    return answers.isOpen("contact")
        ? question(
            "contact",
            "E-mail address for the authority",
            "It tells you when something is wrong with a certificate. May be left out.",
            "",
            text ->
                text.isEmpty() || text.matches("[^@\\s]+@[^@\\s]+")
                    ? List.of()
                    : List.of(new Remark("It is not an e-mail address.", true)))
        : Optional.empty();
  }

  private Optional<Question> hosts() {
    int asked = answers.kept().count(OrderAnswers.HOST);
    String last = OrderAnswers.HOST + asked;
    if (asked > 0 && answers.kept().of(last).isEmpty()) {
      return Optional.empty();
    }
    return question(
        OrderAnswers.HOST + (asked + 1),
        asked == 0 ? "Host" : "Another host",
        asked == 0
            ? "The name by which clients reach the server; *.DOMAIN for all hosts of a domain."
            : "Every other name or address that clients use; empty when there is none left.",
        "",
        text -> asked > 0 && text.isEmpty() ? List.of() : host(filled(text)));
  }

  private static List<Remark> host(String text) {
    HostName host = HostName.parse(text);
    return host.toString().equalsIgnoreCase(text)
        ? List.of()
        : List.of(new Remark("It is ordered as " + host + ".", false));
  }

  private Optional<Question> proof() {
    boolean wildcard = answers.hosts().stream().anyMatch(host -> host.startsWith("*."));
    if (answers.isOpen("proof")) {
      return question(
          "proof",
          "How control is proven",
          wildcard
              ? "A wildcard needs a DNS record: dns=SERVER (updates by RFC 2136), or"
                  + " dns-program=PATH, a program of your own."
              : "listen: a file over HTTP, served here on port 80 for as long as it takes;"
                  + " folder=PATH: in the document folder of a web server; dns=SERVER: a DNS record;"
                  + " tls: a certificate on port 443; program=PATH.",
          wildcard ? "" : "listen",
          text -> proof(filled(text), wildcard));
    }
    boolean dns = answers.of("proof").startsWith("dns=");
    return dns && answers.isOpen("dns-key")
        ? question(
            "dns-key",
            "Key file for updates of the DNS",
            "As the name server has it; empty where it asks for none.",
            "",
            text ->
                text.isEmpty() || Files.isReadable(GivenOptions.path(text))
                    ? List.of()
                    : List.of(new Remark("There is no such file, or you may not read it.", true)))
        : Optional.empty();
  }

  private List<Remark> proof(String text, boolean wildcard) {
    Proofs options = OrderChoice.proofs(answers.with("proof", text).options());
    var unused = options.titles(invocation.session().clock());
    return wildcard && !text.startsWith("dns")
        ? List.of(new Remark("It can't prove the hosts of a domain.", true))
        : List.of();
  }

  private Optional<Question> files() {
    String base = answers.hosts().stream().findFirst().map(OrderQuestions::base).orElse("ordered");
    if (answers.isOpen("into")) {
      return question(
          "into",
          "Key and certificate into",
          "A keystore (.p12, .jks), or a file with key and chain (.pem).",
          base + ".p12",
          text -> {
            into(answers.with("into", filled(text)).options());
            return List.of();
          });
    }
    if (answers.isOpen("seal") && answers.isOpen("unsealed")) {
      return question(
          "seal",
          "Password from",
          "new=FILE makes a strong one and saves it there; file=FILE, env=NAME. The renewal by a"
              + " timer must find it.",
          "new=" + base + ".pass",
          text -> seal(filled(text)));
    }
    return answers.isOpen("reload")
        ? question(
            "reload",
            "Server that takes the new files",
            "Such as nginx: it is told after each renewal. Empty where nothing has to be told.",
            "",
            text -> {
              if (!text.isEmpty()) {
                var unused = OrderChoice.job(answers.with("reload", text).options());
              }
              return List.of();
            })
        : Optional.empty();
  }

  /** The first label of a host, or a whole address. */
  private static String base(String host) {
    HostName name = HostName.parse(host);
    return name.isAddress()
        ? FileNames.safe(name.toString())
        : FileNames.safe(name.toString().replace("*.", "").replaceFirst("[.].*", ""));
  }

  private static void into(GivenOptions given) {
    Destination to = DestinationChoice.of(given);
    if (!to.target().holdsKeys()) {
      throw Usage.wrong(
          to.shown() + " is not a file for a private key and its chain.",
          "Name a keystore or PEM file, such as ingest.p12.");
    }
    if (!Files.exists(to.path())) {
      to.checkPrivate(given.existing());
    }
  }

  private List<Remark> seal(String text) {
    SealSource source = PasswordOption.seal("--seal", text);
    if (source.equals(PasswordSource.ASKED)) {
      throw Usage.wrong(
          "A timer can't ask for a password.", "Say new=FILE, file=FILE or env=NAME.");
    }
    Path into = GivenOptions.path(answers.of("into")).toAbsolutePath().normalize();
    if (source instanceof NewPasswordFile made
        && made.path().toAbsolutePath().normalize().equals(into)) {
      throw Usage.wrong("The keystore goes there.", "Name another file for the password.");
    }
    GivenOptions given = answers.options();
    return PasswordOption.remarks(invocation.task().around(), given, source).stream()
        .map(one -> new Remark(one.statement(), one.level() == io.symbolon.finding.Level.PROBLEM))
        .toList();
  }

  private static String filled(String text) {
    if (text.isBlank()) {
      throw Usage.wrong("It can't be left out.", "Give it.");
    }
    return text;
  }

  private static Optional<Question> question(
      String id, String label, String why, String usual, Function<String, List<Remark>> judge) {
    return Optional.of(new Question(id, label, why, usual, judge));
  }
}
