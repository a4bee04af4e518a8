// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.DestinationChoice;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.KeyTypes;
import io.symbolon.cli.frame.PasswordOption;
import io.symbolon.cli.frame.Question;
import io.symbolon.cli.frame.Question.Remark;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.OptionNames;
import io.symbolon.der.Oids;
import io.symbolon.file.Existing;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SubjectCheck;
import io.symbolon.issue.Use;
import io.symbolon.issue.rule.RuleCheck;
import io.symbolon.issue.rule.Rules;
import io.symbolon.key.KeyKind;
import io.symbolon.oid.Oid;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.RulesSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.Surroundings;
import io.symbolon.task.request.RequestKey;
import io.symbolon.task.request.RequestPlan;
import io.symbolon.task.result.Destination;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Which question follows on the answers, and what is wrong with the next one: judged at once, by
 * the rules that count at the end.
 */
final class QuestionPlan {
  /** What is asked for where no rules say it. */
  private static final Map<Oid, String> PARTS = new LinkedHashMap<>();

  static {
    PARTS.put(Oids.O, "The organisation, as it is registered.");
    PARTS.put(Oids.OU, "The organisational unit; most receivers want none today.");
    PARTS.put(Oids.L, "The place, spelled out.");
    PARTS.put(Oids.ST, "The state or province, spelled out.");
    PARTS.put(Oids.C, "The country, as its code of two letters.");
  }

  /** What is not there yet, which no answer is to blame for. */
  private static final Set<FindingKind> ABSENCES =
      Set.of(
          FindingKind.SUBJECT_ABSENT,
          FindingKind.NO_ALTERNATIVE_NAMES,
          FindingKind.RULE_PART_MISSING);

  private final GivenOptions given;
  private final Surroundings around;
  private final Optional<Rules> rules;

  QuestionPlan(GivenOptions given, Surroundings around) {
    this.given = given;
    this.around = around;
    this.rules = given.rules().map(RulesSource::read);
  }

  /** The next question, or nothing where all is answered. */
  Optional<Question> next(RequestAnswers answers) {
    if (isOpen(RequestAnswers.USE, answers)) {
      return Optional.of(use(answers));
    }
    return names(answers).or(() -> parts(answers)).or(() -> files(answers));
  }

  private boolean isOpen(String option, RequestAnswers answers) {
    return !given.has(option) && !answers.has(option);
  }

  private Question use(RequestAnswers answers) {
    String usual =
        rules.map(Rules::uses).stream()
            .flatMap(uses -> uses.stream().sorted())
            .findFirst()
            .orElse(Use.SERVER)
            .word();
    return new Question(
        RequestAnswers.USE,
        "What for",
        "server: clients connect to it; client: it connects to servers; both.",
        usual,
        text ->
            Use.ofWord(text).isEmpty()
                ? List.of(new Remark("It is not server, client or both. Say one.", true))
                : judged(answers, RequestAnswers.USE, text));
  }

  private Optional<Question> names(RequestAnswers answers) {
    if (!answers.use().isForServers()) {
      return answers.has(RequestAnswers.NAME)
          ? Optional.empty()
          : Optional.of(
              new Question(
                  RequestAnswers.NAME,
                  "Name",
                  "What the client is called: its common name.",
                  "",
                  text -> filled(text, filled -> judged(answers, RequestAnswers.NAME, filled))));
    }
    int asked = answers.kept().count(RequestAnswers.HOST);
    String last = RequestAnswers.HOST + asked;
    if (asked > 0 && answers.of(last).isEmpty()) {
      return Optional.empty();
    }
    String id = RequestAnswers.HOST + (asked + 1);
    return Optional.of(
        asked == 0
            ? new Question(
                id,
                "Host",
                "The name by which clients reach the server.",
                "",
                text -> filled(text, filled -> host(answers, id, filled)))
            : new Question(
                id,
                "Another host",
                "Every other name or address that clients use; empty when there is none left.",
                "",
                text -> text.isEmpty() ? enough(answers, id) : host(answers, id, text)));
  }

  private List<Remark> host(RequestAnswers answers, String id, String text) {
    HostName host = HostName.parse(text);
    List<Remark> remarks = new ArrayList<>(judged(answers, id, text));
    if (!host.toString().equalsIgnoreCase(text)) {
      remarks.add(new Remark("It is asked for as " + host + ".", false));
    }
    return remarks;
  }

  /** Whether the receiver wants more hosts than there are. */
  private List<Remark> enough(RequestAnswers answers, String id) {
    return found(answers.with(id, "").draft()).stream()
        .filter(finding -> finding.is(FindingKind.RULE_HOST_COUNT))
        .map(QuestionPlan::remark)
        .toList();
  }

  private Optional<Question> parts(RequestAnswers answers) {
    Map<Oid, String> parts = new LinkedHashMap<>(PARTS);
    if (!answers.use().isForServers()) {
      parts.put(Oids.UID, "The user id, if the server looks for one.");
    }
    if (rules.isPresent()) {
      Map<Oid, String> told = Map.copyOf(parts);
      parts.clear();
      rules.get().parts().forEach((type, rule) -> parts.put(type, told.getOrDefault(type, "")));
    }
    parts.remove(Oids.CN);
    for (Map.Entry<Oid, String> part : parts.entrySet()) {
      Rules.PartRule rule = rules.map(r -> r.parts().get(part.getKey())).orElse(Rules.PartRule.ANY);
      if (rule.presence() != Rules.Presence.FORBIDDEN
          && !answers.has(RequestAnswers.part(part.getKey()))) {
        return Optional.of(part(answers, part.getKey(), part.getValue(), rule));
      }
    }
    return Optional.empty();
  }

  private Question part(RequestAnswers answers, Oid type, String why, Rules.PartRule rule) {
    boolean required = rule.presence() == Rules.Presence.REQUIRED;
    String title = SubjectCheck.title(type);
    String id = RequestAnswers.part(type);
    return new Question(
        id,
        title.substring(0, 1).toUpperCase(Locale.ROOT) + title.substring(1),
        why
            + rule.says().map(says -> " It is " + says + ".").orElse("")
            + (required ? " The receiver wants it." : ""),
        rule.values().isEmpty() ? "" : rule.values().get(0),
        text ->
            required
                ? filled(text, filled -> judged(answers, id, filled))
                : text.isEmpty() ? List.of() : judged(answers, id, text));
  }

  private Optional<Question> files(RequestAnswers answers) {
    String base = answers.base();
    if (isOpen("key-type", answers)) {
      return Optional.of(keyType());
    }
    if (isOpen("into", answers)) {
      return Optional.of(
          new Question(
              "into",
              "Request into",
              "The file to send.",
              base + ".csr",
              text -> {
                RequestPlan.into(DestinationChoice.of(text, given.value("as"))).check(existing());
                return List.of();
              }));
    }
    if (isOpen("key-into", answers)) {
      return Optional.of(
          new Question(
              "key-into",
              "Private key into",
              "A keystore in which it waits for the reply (.p12, .jks), or a file of its own (.key).",
              base + ".p12",
              text -> keyInto(answers, text, base)));
    }
    if (isOpen("seal", answers) && !given.has("unsealed")) {
      return Optional.of(
          new Question(
              "seal",
              "Password from",
              "new=FILE makes a strong one and saves it there; ask lets you type one; file=FILE,"
                  + " env=NAME.",
              "new=" + base + ".pass",
              text -> seal(answers, text)));
    }
    return Optional.empty();
  }

  private Question keyType() {
    List<KeyKind> allowed = rules.map(Rules::keys).orElse(List.of());
    String words =
        allowed.isEmpty()
            ? KeyTypes.words()
            : allowed.stream().map(KeyKind::word).collect(Collectors.joining(", "));
    return new Question(
        "key-type",
        "Kind of key",
        words + ".",
        RequestKey.usual(allowed).word(),
        text -> {
          KeyKind kind = KeyTypes.parse(text);
          return allowed.isEmpty() || allowed.contains(kind)
              ? List.of()
              : List.of(new Remark("The receiver takes " + words + ".", true));
        });
  }

  private List<Remark> keyInto(RequestAnswers answers, String text, String base) {
    Destination to =
        RequestPlan.keyInto(DestinationChoice.of(text, Optional.empty()), base)
            .ownedBy(given.owner());
    if (isSame(to.path(), given.value("into").orElse(answers.of("into")))) {
      throw Usage.wrong("The request goes there.", "Name another file for the private key.");
    }
    boolean added =
        existing() == Existing.REPLACE && to.target().isStore() && Files.exists(to.path());
    if (!added) {
      to.checkPrivate(existing());
    }
    return List.of();
  }

  private List<Remark> seal(RequestAnswers answers, String text) {
    SealSource source = PasswordOption.seal("--seal", text);
    if (source.equals(PasswordSource.ASKED)) {
      return List.of();
    }
    for (String option : List.of("into", "key-into")) {
      String taken = given.value(option).orElse(answers.of(option));
      if (source instanceof NewPasswordFile made && isSame(made.path(), taken)) {
        throw Usage.wrong("Something else goes there.", "Name another file for the password.");
      }
    }
    return PasswordOption.remarks(around, given, source).stream()
        .map(QuestionPlan::remark)
        .toList();
  }

  private static boolean isSame(Path path, String text) {
    return path.toAbsolutePath()
        .normalize()
        .equals(GivenOptions.path(text).toAbsolutePath().normalize());
  }

  private Existing existing() {
    return given.existing();
  }

  private static List<Remark> filled(String text, Function<String, List<Remark>> judge) {
    if (text.isBlank()) {
      throw Usage.wrong("It can't be left out.", "Give it.");
    }
    return judge.apply(text);
  }

  /** What an answer brings into what is asked for that was not there without it. */
  private List<Remark> judged(RequestAnswers answers, String id, String text) {
    RequestDraft with = answers.with(id, text).draft();
    Set<String> before =
        found(answers.draft()).stream().map(Finding::statement).collect(Collectors.toSet());
    Set<Remark> remarks = new LinkedHashSet<>();
    for (Finding finding : found(with)) {
      if (!before.contains(finding.statement()) && !isAbsence(finding, with)) {
        remarks.add(remark(finding));
      }
    }
    return List.copyOf(remarks);
  }

  private boolean isAbsence(Finding finding, RequestDraft draft) {
    boolean few =
        finding.is(FindingKind.RULE_HOST_COUNT)
            && draft.names().size() < rules.orElseThrow().hosts().least();
    return few || ABSENCES.contains(finding.kind());
  }

  private List<Finding> found(RequestDraft draft) {
    return RuleCheck.ofDraft(draft, rules, "");
  }

  private static Remark remark(Finding finding) {
    return new Remark(
        finding.statement(OptionNames::mention)
            + " "
            + finding.remedy().advice(OptionNames::mention),
        finding.level() == Level.PROBLEM);
  }
}
