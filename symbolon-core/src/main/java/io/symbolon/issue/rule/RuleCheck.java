// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.rule;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SubjectCheck;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Attribute;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Compares what is asked for with what its receiver wants, and tells every break of a rule. */
public final class RuleCheck {
  private final Rules rules;
  private final String where;
  private final List<Finding> breaks = new ArrayList<>();

  private RuleCheck(Rules rules, String where) {
    this.rules = rules;
    this.where = where;
  }

  /**
   * {@return all that is wrong with what is asked for: for any receiver, and for the one whose
   * rules these are}
   *
   * @param draft what is asked for
   * @param where what to name in the findings
   */
  public static List<Finding> all(
      RequestDraft draft, SubjectPublicKeyInfo key, Optional<Rules> rules, String where) {
    List<Finding> all = new ArrayList<>(ofDraft(draft, rules, where));
    rules.ifPresent(
        wanted -> {
          RuleCheck check = new RuleCheck(wanted, where);
          check.key(key);
          all.addAll(check.breaks);
        });
    return List.copyOf(all);
  }

  /**
   * {@return the same before there is a key}
   *
   * @param draft what is asked for
   * @param where what to name in the findings
   */
  public static List<Finding> ofDraft(RequestDraft draft, Optional<Rules> rules, String where) {
    List<Finding> all = new ArrayList<>(draft.check(where));
    boolean countryTold = all.stream().anyMatch(f -> f.is(FindingKind.COUNTRY_UNKNOWN));
    rules
        .map(wanted -> ofDraft(wanted, draft, where).breaks)
        .ifPresent(
            breaks ->
                breaks.stream()
                    .filter(broken -> !countryTold || !broken.is(FindingKind.RULE_COUNTRY))
                    .forEach(all::add));
    return List.copyOf(all);
  }

  private static RuleCheck ofDraft(Rules rules, RequestDraft draft, String where) {
    RuleCheck check = new RuleCheck(rules, where);
    check.subject(draft);
    check.names(draft.names());
    check.use(draft.use());
    return check;
  }

  /**
   * {@return all breaks of the rules by a draft and the key it is for}
   *
   * @param draft what is asked for
   * @param where the place to name, such as a file; may be empty
   */
  public static List<Finding> check(
      Rules rules, RequestDraft draft, SubjectPublicKeyInfo key, String where) {
    RuleCheck check = ofDraft(rules, draft, where);
    check.key(key);
    return List.copyOf(check.breaks);
  }

  private void subject(RequestDraft draft) {
    List<Attribute> attributes = draft.subject().attributes();
    for (Map.Entry<Oid, Rules.PartRule> rule : rules.parts().entrySet()) {
      List<Attribute> there =
          attributes.stream().filter(a -> a.type().equals(rule.getKey())).toList();
      part(rule.getKey(), rule.getValue(), there);
    }
    if (!rules.otherParts()) {
      Set<Oid> told = new HashSet<>();
      for (Attribute attribute : attributes) {
        if (!rules.parts().containsKey(attribute.type()) && told.add(attribute.type())) {
          broken(
              FindingKind.RULE_PART_FORBIDDEN,
              wants("no " + title(attribute.type()) + " in the subject"),
              "Leave it out.");
        }
      }
    }
  }

  private void part(Oid type, Rules.PartRule rule, List<Attribute> there) {
    if (there.isEmpty()) {
      if (rule.presence() == Rules.Presence.REQUIRED) {
        broken(
            FindingKind.RULE_PART_MISSING,
            wants("a " + title(type) + " in the subject, and there is none"),
            rule.values().size() == 1
                ? "Add " + assignment(type, rule.values().get(0)) + "."
                : rule.says().map(text -> "Add it: " + text + ".").orElse("Add it."));
      }
      return;
    }
    if (rule.presence() == Rules.Presence.FORBIDDEN) {
      broken(
          FindingKind.RULE_PART_FORBIDDEN,
          wants("no " + title(type) + " in the subject"),
          "Leave it out.");
      return;
    }
    if (there.size() > rule.times()) {
      broken(
          FindingKind.RULE_PART_REPEATED,
          wants(
              title(type)
                  + " at most "
                  + (rule.times() == 1 ? "once" : rule.times() + " times")
                  + "; it is there "
                  + there.size()
                  + " times"),
          "Leave some out.");
    }
    there.forEach(attribute -> value(type, rule, attribute.text()));
  }

  private void value(Oid type, Rules.PartRule rule, String value) {
    String shown = "'" + VisibleText.of(value) + "'";
    if (!rule.values().isEmpty() && !rule.values().contains(value)) {
      broken(
          FindingKind.RULE_PART_FIXED,
          wants(
              "the "
                  + title(type)
                  + " to be "
                  + rule.values().stream()
                      .map(v -> "'" + VisibleText.of(v) + "'")
                      .collect(Collectors.joining(" or "))
                  + ", not "
                  + shown),
          "Write it exactly so.");
    }
    int length = value.codePointCount(0, value.length());
    if (length < rule.least() || length > rule.most()) {
      broken(
          FindingKind.RULE_PART_LENGTH,
          wants(
              "the "
                  + title(type)
                  + " to have "
                  + (length < rule.least() ? "at least " + rule.least() : "at most " + rule.most())
                  + " characters; "
                  + shown
                  + " has "
                  + length),
          "Write it longer or shorter.");
    }
    if (rule.pattern().isPresent() && !BoundedMatch.matches(rule.pattern().get(), value)) {
      broken(
          FindingKind.RULE_PART_PATTERN,
          wants(
              "the "
                  + title(type)
                  + " to be "
                  + rule.says().orElse("of the form " + VisibleText.of(rule.pattern().get()))
                  + ", not "
                  + shown),
          "Write it in that form.");
    }
    form(type, rule.form(), value, shown);
  }

  private void form(Oid type, Rules.Form form, String value, String shown) {
    switch (form) {
      case COUNTRY -> {
        if (!SubjectCheck.isCountry(value)) {
          broken(
              FindingKind.RULE_COUNTRY,
              wants("the country as its code in ISO 3166-1; " + shown + " is none"),
              "Use the code of two capital letters, such as IS for Iceland.");
        }
      }
      case PLACE -> {
        if (PlaceNames.looksShortened(value)) {
          broken(
              FindingKind.RULE_PLACE_SHORTENED,
              wants("the " + title(type) + " spelled out; " + shown + " looks shortened"),
              "Write the whole name of the place.");
        }
      }
      case HOST -> {
        if (!isQualifiedHost(value)) {
          broken(
              FindingKind.RULE_HOST_NOT_QUALIFIED,
              wants("the " + title(type) + " to be a host with its domain, not " + shown),
              "Write it like ingest.lanternfish.example.");
        } else {
          host(value);
        }
      }
      case EMAIL -> {
        try {
          GeneralName.ofEmail(value);
        } catch (SymbolonException e) {
          broken(
              FindingKind.RULE_EMAIL,
              wants("the " + title(type) + " to be an e-mail address, not " + shown),
              "Write it like buoys@lanternfish.example.");
        }
      }
      case TEXT -> {
        // any text will do
      }
    }
  }

  private static boolean isQualifiedHost(String value) {
    try {
      return HostName.parse(value).isQualified();
    } catch (SymbolonException e) {
      return false;
    }
  }

  private void names(List<GeneralName> names) {
    Rules.HostRule rule = rules.hosts();
    if (names.size() < rule.least() || names.size() > rule.most()) {
      boolean few = names.size() < rule.least();
      broken(
          FindingKind.RULE_HOST_COUNT,
          wants(
              (few ? "at least " + rule.least() : "at most " + rule.most())
                  + " subject alternative names; there are "
                  + names.size()),
          few
              ? Remedy.of("Add them.", Action.again(Input.HOST))
              : Remedy.of("Ask for several certificates."));
    }
    for (GeneralName name : names) {
      if (!rule.kinds().isEmpty() && !rule.kinds().contains(name.kind())) {
        broken(
            FindingKind.RULE_NAME_KIND,
            wants("no subject alternative name like " + VisibleText.of(name.toString())),
            "Leave it out.");
      } else if (name.kind() == GeneralName.NameForm.DNS) {
        host(name.value());
      }
    }
  }

  private final Set<String> hostsSeen = new HashSet<>();

  private void host(String text) {
    Rules.HostRule rule = rules.hosts();
    String host = text.toLowerCase(Locale.ROOT);
    if (!hostsSeen.add(host)) {
      return; // the common name is among the alternative names, and is told once
    }
    String shown = VisibleText.of(host);
    if (!rule.wildcards() && host.contains("*")) {
      broken(FindingKind.RULE_WILDCARD, wants("no wildcard; there is " + shown), "Name each host.");
    }
    if (!rule.www() && host.startsWith("www.")) {
      broken(
          FindingKind.RULE_WWW,
          wants("no host that begins with www.; there is " + shown),
          "Ask for " + shown.substring(4) + " instead.");
    }
    if (rule.qualified() && host.indexOf('.') < 0) {
      broken(
          FindingKind.RULE_HOST_NOT_QUALIFIED,
          wants("every host with its domain; there is " + shown),
          "Write it like ingest.lanternfish.example.");
    }
    if (!rule.domains().isEmpty()
        && rule.domains().stream().noneMatch(d -> host.equals(d) || host.endsWith("." + d))) {
      broken(
          FindingKind.RULE_DOMAIN,
          wants("hosts in " + String.join(" or ", rule.domains()) + " alone; there is " + shown),
          "Leave it out, or ask another authority for it.");
    }
  }

  private void key(SubjectPublicKeyInfo key) {
    if (!rules.keys().isEmpty() && rules.keys().stream().noneMatch(kind -> kind.isOf(key))) {
      broken(
          FindingKind.RULE_KEY,
          wants(
              "a key of "
                  + rules.keys().stream().map(KeyKind::title).collect(Collectors.joining(" or "))
                  + ", not "
                  + key.description()),
          Remedy.of(
              "Make a key that the receiver takes.",
              Action.again().with(Input.KEY_TYPE, rules.keys().get(0).word())));
    }
  }

  private void use(Use use) {
    if (!rules.uses().isEmpty() && !rules.uses().contains(use)) {
      broken(
          FindingKind.RULE_USE,
          wants(
              "requests for "
                  + rules.uses().stream().map(Use::word).sorted().collect(Collectors.joining(", "))
                  + " alone; this is for "
                  + use.word()),
          Remedy.of("Say another use.", Action.again(Input.USE)));
    }
  }

  private static String title(Oid type) {
    return SubjectCheck.title(type);
  }

  private static String assignment(Oid type, String value) {
    return new Attribute(type, value, true).toString();
  }

  private String wants(String what) {
    return VisibleText.of(rules.receiver()) + " wants " + what + ".";
  }

  private void broken(FindingKind kind, String statement, String advice) {
    broken(kind, statement, Remedy.of(advice));
  }

  private void broken(FindingKind kind, String statement, Remedy remedy) {
    breaks.add(Finding.of(kind, where, statement, remedy));
  }
}
