// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Dialogue;
import io.symbolon.cli.frame.DraftOptions;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.limit.Limits;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a person has answered, in the order of the questions. An answer that was taken back is
 * remembered, and stands in brackets when its question comes again.
 */
final class RequestAnswers implements Dialogue.Answers {
  static final String USE = "for";
  static final String HOST = "host ";
  static final String NAME = "name";
  static final String PART = "part ";

  /** The most general part first, as in the encoding. */
  private static final List<Oid> ORDER = List.of(Oids.C, Oids.ST, Oids.L, Oids.O, Oids.OU);

  private final GivenOptions given;
  private final Map<String, String> answers = new LinkedHashMap<>();
  private final Map<String, String> remembered = new LinkedHashMap<>();

  /** Nothing answered but for what was typed as options. */
  RequestAnswers(GivenOptions given) {
    this.given = given;
  }

  boolean has(String id) {
    return answers.containsKey(id);
  }

  String of(String id) {
    return answers.getOrDefault(id, "");
  }

  /** What was answered before it was taken back. */
  @Override
  public Optional<String> remembered(String id) {
    return Optional.ofNullable(remembered.get(id));
  }

  @Override
  public void add(String id, String text) {
    answers.put(id, text);
    remembered.put(id, text);
  }

  /** Takes the last answer back; false where there is none. */
  @Override
  public boolean takeBack() {
    List<String> ids = List.copyOf(answers.keySet());
    if (ids.isEmpty()) {
      return false;
    }
    answers.remove(ids.get(ids.size() - 1));
    return true;
  }

  void takeAllBack() {
    answers.clear();
  }

  /** The same with one more answer, to be judged. */
  RequestAnswers with(String id, String text) {
    RequestAnswers more = new RequestAnswers(given);
    more.answers.putAll(answers);
    more.answers.put(id, text);
    return more;
  }

  Use use() {
    return given.use().or(() -> Use.ofWord(of(USE))).orElse(Use.SERVER);
  }

  private List<String> hosts() {
    return answers.entrySet().stream()
        .filter(answer -> answer.getKey().startsWith(HOST) && !answer.getValue().isEmpty())
        .map(Map.Entry::getValue)
        .toList();
  }

  int hostsAsked() {
    return (int) answers.keySet().stream().filter(id -> id.startsWith(HOST)).count();
  }

  private DistinguishedName subject() {
    Map<Oid, String> values = new LinkedHashMap<>();
    answers.forEach(
        (id, value) -> {
          if (id.startsWith(PART) && !value.isEmpty()) {
            values.put(Oid.of(id.substring(PART.length())), value);
          }
        });
    DistinguishedName subject = DistinguishedName.parse("");
    for (Oid type : ORDER) {
      String value = values.remove(type);
      subject = value == null ? subject : subject.with(type, value);
    }
    for (Map.Entry<Oid, String> other : values.entrySet()) {
      subject = subject.with(other.getKey(), other.getValue());
    }
    String common = hosts().stream().findFirst().map(RequestAnswers::host).orElse(of(NAME));
    return common.isEmpty() || (use().isForServers() && common.length() > Limits.COMMON_NAME)
        ? subject
        : subject.with(Oids.CN, common);
  }

  private static String host(String typed) {
    return HostName.parse(typed).toString();
  }

  /** What is asked for, as far as it is answered. */
  RequestDraft draft() {
    List<GeneralName> names = new ArrayList<>();
    hosts().forEach(host -> names.add(GeneralName.ofHost(host(host))));
    return RequestDraft.of(subject(), names, use());
  }

  /** What names files and aliases. */
  String base() {
    return DraftOptions.fileName(draft());
  }

  /** The command line that says the same, behind the name of the command. */
  List<String> arguments() {
    List<String> arguments = new ArrayList<>(given.typed());
    Map<String, String> rest = new LinkedHashMap<>(answers);
    rest.keySet().removeIf(id -> id.startsWith(HOST) || id.startsWith(PART) || id.equals(NAME));
    if (rest.containsKey(USE)) {
      add(arguments, USE, String.valueOf(rest.remove(USE)));
    }
    if (!subject().isEmpty()) {
      add(arguments, "subject", subject().toString());
    }
    hosts().forEach(host -> add(arguments, "host", host(host)));
    rest.forEach((option, value) -> add(arguments, option, value));
    return arguments;
  }

  private static void add(List<String> arguments, String option, String value) {
    arguments.add("--" + option);
    arguments.add(value);
  }

  /** The id of the question for a part of the subject. */
  static String part(Oid type) {
    return PART + type;
  }
}
