// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.KeptAnswers;
import io.symbolon.der.Oids;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What a person has answered of a request, and what it makes. */
final class RequestAnswers {
  static final String USE = "for";
  static final String HOST = "host ";
  static final String NAME = "name";
  static final String PART = "part ";

  /** The most general part first, as in the encoding. */
  private static final List<Oid> ORDER = List.of(Oids.C, Oids.ST, Oids.L, Oids.O, Oids.OU);

  private final GivenOptions given;
  private final KeptAnswers kept;

  /** Nothing answered but for what was typed as options. */
  RequestAnswers(GivenOptions given) {
    this(given, new KeptAnswers());
  }

  private RequestAnswers(GivenOptions given, KeptAnswers kept) {
    this.given = given;
    this.kept = kept;
  }

  KeptAnswers kept() {
    return kept;
  }

  boolean has(String id) {
    return kept.has(id);
  }

  String of(String id) {
    return kept.of(id);
  }

  /** The same with one more answer, to be judged. */
  RequestAnswers with(String id, String text) {
    return new RequestAnswers(given, kept.with(id, text));
  }

  Use use() {
    return given.use().or(() -> Use.ofWord(of(USE))).orElse(Use.SERVER);
  }

  private List<String> hosts() {
    return kept.startingWith(HOST);
  }

  private DistinguishedName subject() {
    Map<Oid, String> values = new LinkedHashMap<>();
    kept.all()
        .forEach(
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
    return Wording.fileName(draft());
  }

  /** The command line that says the same, behind the name of the command. */
  List<String> arguments() {
    List<String> arguments = new ArrayList<>(given.typed());
    Map<String, String> rest = kept.all();
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
