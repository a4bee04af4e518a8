// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rules;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Use;
import io.symbolon.issue.rule.BoundedMatch;
import io.symbolon.issue.rule.Rules;
import io.symbolon.key.KeyKind;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.AttributeTypes;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads the rules of a receiver; docs/rules.md describes the file. */
public final class RulesFile {
  private static final String VARIANTS = "variants";

  private RulesFile() {}

  /**
   * The rules in a file.
   *
   * @param file the file, in UTF-8
   * @param variant which of several variants is meant
   * @return the rules
   * @throws SymbolonException if the file can't be read, a line of it has no meaning, or it is not
   *     clear which variant is meant
   */
  public static Rules read(Path file, Optional<String> variant) {
    RulesYaml.Section whole =
        RulesYaml.read(file)
            .only("receiver", "subject", "others", "hosts", "keys", "uses", VARIANTS);
    Rules common =
        rules(whole, new Rules("", Map.of(), true, Rules.HostRule.ANY, List.of(), Set.of()));
    Optional<RulesYaml.Section> variants = whole.section(VARIANTS);
    List<String> names = variants.map(RulesYaml.Section::names).orElse(List.of());
    if (variant.isEmpty() && names.isEmpty()) {
      return common;
    }
    if (variant.filter(names::contains).isEmpty()) {
      throw wrong(
          variant
                  .map(v -> "The rules have no variant '" + VisibleText.of(v) + "'")
                  .orElse("No variant of the rules is given")
              + (names.isEmpty()
                  ? "; they have none at all."
                  : ": they have " + VisibleText.of(String.join(", ", names)) + "."),
          names.isEmpty()
              ? Remedy.of("Leave the variant out.")
              : Remedy.of("Choose one.", Action.again(Input.VARIANT)));
    }
    RulesYaml.Section chosen =
        variants
            .orElseThrow()
            .section(variant.get())
            .orElseThrow()
            .only("receiver", "subject", "others", "hosts", "keys", "uses");
    return rules(chosen, common);
  }

  private static SymbolonException wrong(String seen, Remedy remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "The rules can't be used.", seen, remedy);
  }

  private static SymbolonException wrong(String seen) {
    return wrong(seen, Remedy.of(""));
  }

  /** The rules of a section; what it does not say is as in {@code otherwise}. */
  private static Rules rules(RulesYaml.Section section, Rules otherwise) {
    Map<Oid, Rules.PartRule> parts = new LinkedHashMap<>(otherwise.parts());
    Optional<RulesYaml.Section> subject = section.section("subject");
    if (subject.isPresent()) {
      for (String name : subject.get().names()) {
        Oid type =
            AttributeTypes.byName(name)
                .orElseThrow(
                    () ->
                        subject
                            .get()
                            .wrongAt(
                                name,
                                "'"
                                    + VisibleText.of(name)
                                    + "' is not one of "
                                    + AttributeTypes.known()
                                    + "."));
        parts.put(type, part(subject.get().section(name).orElseThrow()));
      }
    }
    List<KeyKind> keys =
        section.each(
            "keys",
            word ->
                KeyKind.ofWord(word)
                    .orElseThrow(
                        () ->
                            wrong(
                                "'"
                                    + VisibleText.of(word)
                                    + "' is not a kind of key, such as ec-p256.")));
    List<Use> uses =
        section.each(
            "uses",
            word ->
                Use.ofWord(word)
                    .orElseThrow(
                        () ->
                            wrong(
                                "'" + VisibleText.of(word) + "' is not server, client or both.")));
    return new Rules(
        section
            .text("receiver")
            .orElse(otherwise.receiver().isEmpty() ? "The receiver" : otherwise.receiver()),
        parts,
        section.has("others") ? section.allows("others") : otherwise.otherParts(),
        section.section("hosts").map(RulesFile::hosts).orElse(otherwise.hosts()),
        keys.isEmpty() ? otherwise.keys() : keys,
        uses.isEmpty() ? otherwise.uses() : Set.copyOf(uses));
  }

  private static Rules.PartRule part(RulesYaml.Section section) {
    section.only(
        "presence", "value", "values", "pattern", "says", "least", "most", "form", "times");
    Rules.PartRule any = Rules.PartRule.ANY;
    Optional<String> pattern = section.text("pattern");
    try {
      pattern.ifPresent(BoundedMatch::check);
    } catch (SymbolonException e) {
      throw section.wrongAt("pattern", e.statement() + " " + e.seen());
    }
    return new Rules.PartRule(
        section.word("presence", Rules.Presence.class).orElse(any.presence()),
        section.has("value") ? section.list("value") : section.list("values"),
        pattern,
        section.text("says"),
        section.number("least").orElse(any.least()),
        section.number("most").orElse(any.most()),
        section.word("form", Rules.Form.class).orElse(any.form()),
        section.number("times").orElse(any.times()));
  }

  private static Rules.HostRule hosts(RulesYaml.Section section) {
    section.only("wildcards", "www", "bare", "domains", "kinds", "least", "most");
    Rules.HostRule any = Rules.HostRule.ANY;
    List<GeneralName.NameForm> kinds =
        section.each(
            "kinds",
            word ->
                List.of(
                        GeneralName.NameForm.DNS,
                        GeneralName.NameForm.IP,
                        GeneralName.NameForm.EMAIL,
                        GeneralName.NameForm.URI)
                    .stream()
                    .filter(kind -> kind.name().toLowerCase(Locale.ROOT).equals(word))
                    .findFirst()
                    .orElseThrow(
                        () ->
                            wrong("'" + VisibleText.of(word) + "' is not dns, ip, email or uri.")));
    return new Rules.HostRule(
        section.allows("wildcards"),
        section.allows("www"),
        !section.allows("bare"),
        section.each("domains", domain -> HostName.parse(domain).toString()),
        Set.copyOf(kinds),
        section.number("least").orElse(any.least()),
        section.number("most").orElse(any.most()));
  }
}
