// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.RulesSource;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Rules;
import io.symbolon.issue.SubjectCheck;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.apache.commons.cli.ParseException;

/**
 * Asks a person for each part of a request. The answers become a command line, which is shown, run
 * after a yes, and can be given again without any question.
 */
final class RequestQuestions {
  /** What is asked for where no rules say it. */
  private static final Map<Oid, String> PARTS = new LinkedHashMap<>();

  static {
    PARTS.put(Oids.O, "The organisation, as it is registered.");
    PARTS.put(Oids.OU, "The organisational unit; most receivers want none today.");
    PARTS.put(Oids.L, "The place, spelled out.");
    PARTS.put(Oids.ST, "The state or province, spelled out.");
    PARTS.put(Oids.C, "The country, as its code of two letters.");
  }

  private final Invocation invocation;
  private final GivenOptions given;
  private final Session session;
  private final Output output;
  private final Optional<Rules> rules;
  private final List<String> arguments = new ArrayList<>();

  private RequestQuestions(Invocation invocation, GivenOptions given) {
    this.invocation = invocation;
    this.given = given;
    this.session = invocation.session();
    this.output = invocation.output();
    this.rules = given.rules().map(RulesSource::read);
  }

  static int run(Invocation invocation, GivenOptions given) {
    return new RequestQuestions(invocation, given).run();
  }

  private int run() {
    output.line(output.paint().heading("A certificate signing request, part by part"));
    output.wrapped(
        "  ",
        "An empty answer takes what stands in brackets, or leaves the part out. Nothing is written"
            + " before you have seen all of it and said yes.");
    Use use = use();
    subject(use);
    String base = base();
    key(base);
    for (String option : List.of("rules", "variant")) {
      given.value(option).ifPresent(value -> add(option, value));
    }
    String line = "symbolon request " + output.commands().shell().line(arguments);
    RequestJob job;
    try {
      job =
          RequestJob.of(
              new GivenOptions(invocation.action().spec().parse(arguments.toArray(String[]::new))));
    } catch (ParseException e) {
      throw new IllegalStateException("the answers make no command line", e);
    }
    RequestPlan plan = RequestPlan.of(invocation, job);
    output.line("");
    output.line(output.paint().heading("This will be asked for"));
    RequestReport.fields(output, plan);
    output.line("  into     " + plan.into().shown());
    plan.keyInto().ifPresent(to -> output.line("  key into " + to.shown()));
    output.line("");
    output.line(output.paint().heading("The same as one command line, for next time"));
    output.line("  " + output.paint().command(line));
    output.line("");
    boolean writable = !Finding.anyProblem(plan.findings());
    session.flush();
    if (writable && !session.prompt().agrees("Write it?")) {
      output.line("Nothing was written.");
      return ExitCode.DONE;
    }
    return RequestCommand.write(invocation, job, plan);
  }

  private void add(String option, String value) {
    arguments.add("--" + option);
    arguments.add(value);
  }

  private Use use() {
    List<Use> allowed =
        rules.map(Rules::uses).filter(uses -> !uses.isEmpty()).stream()
            .flatMap(uses -> uses.stream().sorted())
            .toList();
    Use usual = allowed.isEmpty() ? Use.SERVER : allowed.get(0);
    Use use =
        ask(
            "What for",
            "server: clients connect to it; client: it connects to servers; both.",
            usual.word(),
            text ->
                Use.ofWord(text)
                    .orElseThrow(
                        () -> Usage.wrong("It is not server, client or both.", "Say one.")));
    add("for", use.word());
    return use;
  }

  private void subject(Use use) {
    DistinguishedName subject = DistinguishedName.parse("");
    List<HostName> hosts = new ArrayList<>();
    String common;
    if (use.isForServers()) {
      hosts.add(ask("Host", "The name by which clients reach the server.", "", HostName::parse));
      while (true) {
        Optional<HostName> more =
            ask(
                "Another host",
                "Every other name or address that clients use; empty when there is none left.",
                "",
                text ->
                    text.isEmpty()
                        ? Optional.<HostName>empty()
                        : Optional.of(HostName.parse(text)));
        if (more.isEmpty()) {
          break;
        }
        hosts.add(more.get());
      }
      common = hosts.get(0).toString();
    } else {
      common = ask("Name", "What the client is called: its common name.", "", this::filled);
    }
    Map<Oid, String> parts = new LinkedHashMap<>(PARTS);
    if (!use.isForServers()) {
      parts.put(Oids.UID, "The user id, if the server looks for one.");
    }
    if (rules.isPresent()) {
      Map<Oid, String> told = Map.copyOf(parts);
      parts.clear();
      rules.get().parts().forEach((type, rule) -> parts.put(type, told.getOrDefault(type, "")));
    }
    // The most general part first, as in the encoding: country, ..., organisation, ..., name.
    Map<Oid, String> values = new LinkedHashMap<>();
    parts.remove(Oids.CN);
    parts.forEach((type, why) -> part(type, why).ifPresent(value -> values.put(type, value)));
    for (Oid type : List.of(Oids.C, Oids.ST, Oids.L, Oids.O, Oids.OU)) {
      String value = values.remove(type);
      if (value != null) {
        subject = subject.with(type, value);
      }
    }
    for (Map.Entry<Oid, String> other : values.entrySet()) {
      subject = subject.with(other.getKey(), other.getValue());
    }
    subject = subject.with(Oids.CN, common);
    add("subject", subject.toString());
    hosts.forEach(host -> add("host", host.toString()));
  }

  private String filled(String text) {
    if (text.isBlank()) {
      throw Usage.wrong("It can't be left out.", "Give it.");
    }
    return text;
  }

  private Optional<String> part(Oid type, String why) {
    Rules.PartRule rule = rules.map(r -> r.parts().get(type)).orElse(Rules.PartRule.ANY);
    if (rule.presence() == Rules.Presence.FORBIDDEN) {
      return Optional.empty();
    }
    String usual = rule.values().isEmpty() ? "" : rule.values().get(0);
    boolean required = rule.presence() == Rules.Presence.REQUIRED;
    String title = SubjectCheck.title(type);
    String name = title.substring(0, 1).toUpperCase(Locale.ROOT) + title.substring(1);
    String text =
        ask(
            name,
            why
                + rule.says().map(says -> " It is " + says + ".").orElse("")
                + (required ? " The receiver wants it." : ""),
            usual,
            answer -> required ? filled(answer) : answer);
    return text.isBlank() ? Optional.empty() : Optional.of(text);
  }

  private String base() {
    int at = arguments.indexOf("--subject");
    DistinguishedName subject = DistinguishedName.parse(arguments.get(at + 1));
    return DraftOptions.fileName(
        new io.symbolon.issue.RequestDraft(subject, List.of(), Use.CLIENT));
  }

  private void key(String base) {
    List<KeyKind> allowed = rules.map(Rules::keys).orElse(List.of());
    KeyKind usual =
        allowed.isEmpty() || allowed.contains(RequestPlan.USUAL_KEY)
            ? RequestPlan.USUAL_KEY
            : allowed.get(0);
    KeyKind kind =
        ask(
            "Kind of key",
            allowed.isEmpty()
                ? KeyTypes.words() + "."
                : allowed.stream().map(KeyKind::word).collect(Collectors.joining(", ")) + ".",
            usual.word(),
            KeyTypes::parse);
    add("key-type", kind.word());
    add("into", ask("Request into", "The file to send.", base + ".csr", this::filled));
    add(
        "key-into",
        ask(
            "Private key into",
            "A keystore in which it waits for the reply (.p12, .jks), or a file of its own (.key).",
            base + ".p12",
            this::filled));
    add(
        "seal",
        ask(
            "Password from",
            "new=FILE makes a strong one and saves it there; ask lets you type one; file=FILE,"
                + " env=NAME.",
            "new=" + base + ".pass",
            text -> {
              SecretSource unused = SecretSource.parse("--seal", text);
              return text;
            }));
  }

  /** Asks until the answer can be used. */
  private <T> T ask(String label, String why, String usual, Function<String, T> reader) {
    output.line("");
    if (!why.isBlank()) {
      output.wrapped("  ", why.strip());
    }
    while (true) {
      session.flush();
      String question = "  " + label + (usual.isEmpty() ? "" : " [" + usual + "]") + ": ";
      String answer =
          session
              .prompt()
              .line(question)
              .orElseThrow(
                  () ->
                      Usage.wrong(
                          "The questions were not answered to their end.",
                          "Give the options instead; see symbolon request --help."))
              .strip();
      try {
        return reader.apply(answer.isEmpty() ? usual : answer);
      } catch (SymbolonException e) {
        output.wrapped("  ", e.seen() + " " + output.commands().paragraph(e.remedy()));
      }
    }
  }
}
