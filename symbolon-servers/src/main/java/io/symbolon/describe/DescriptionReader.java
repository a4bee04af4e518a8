// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.Command;
import io.symbolon.describe.Description.Commands;
import io.symbolon.describe.Description.OtherForm;
import io.symbolon.describe.Description.ProtocolWords;
import io.symbolon.describe.Description.Sections;
import io.symbolon.describe.Description.SettingsPart;
import io.symbolon.describe.Description.Taking;
import io.symbolon.describe.Description.WantedFile;
import io.symbolon.describe.Description.Where;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.rule.BoundedMatch;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.probe.StartWith;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Reads a description, and tells everything that is wrong in it at once. */
final class DescriptionReader {
  private static final int MOST_SECONDS = 600;
  private static final String NAME = "[a-z][a-z0-9-]{0,39}";
  private static final String USUAL_FORM = "usual";

  private final Mistakes mistakes;
  private final YamlPart whole;
  private final Optional<String> other; // which of the other forms is read
  private Map<String, WantedFile> files = Map.of();
  private Set<String> turning = Set.of();

  private DescriptionReader(YamlPart whole, Mistakes mistakes, Optional<String> other) {
    this.mistakes = mistakes;
    this.whole = whole;
    this.other = other;
  }

  /**
   * The description in a text.
   *
   * @param file what it is called, for messages
   * @throws SymbolonException if anything is wrong in it
   */
  static Description read(String file, String text) {
    Mistakes mistakes = new Mistakes(file);
    Description description =
        new DescriptionReader(YamlPart.read(text, mistakes), mistakes, Optional.empty())
            .description();
    mistakes.throwIfAny();
    return description;
  }

  private Description description() {
    whole.only(
        "server",
        "title",
        "says",
        "where",
        "folder",
        "files",
        "settings",
        "places",
        "turn",
        "protocols",
        "start-with",
        "port",
        "check",
        "new-files",
        "new-settings",
        "form",
        "other-forms",
        "harmless");
    String name = whole.needed("server");
    if (!name.isEmpty() && !name.matches(NAME)) {
      whole.wrong("server", "A server's name is of small letters, digits and dashes.");
    }
    Map<String, Command> commands = turning();
    turning = commands.keySet();
    FilesReader filesReader = new FilesReader(mistakes);
    files = filesReader.read(whole);
    SettingsReader settingsReader = new SettingsReader(mistakes, files, turning);
    List<SettingsPart> settings = new ArrayList<>();
    Optional<Sections> places = places();
    for (YamlPart part : whole.parts("settings")) {
      settings.add(settingsReader.read(part, settings.isEmpty() && places.isPresent()));
    }
    if (settings.isEmpty()) {
      whole.wrong("settings", "'settings' is missing: name at least one settings file.");
    } else {
      settingsReader.contradictions(whole, settings);
    }
    return new Description(
        name,
        whole.text("title").orElse(name),
        whole.text("says"),
        where(),
        relative(whole, "folder", "tls"),
        files,
        settings,
        places,
        commands,
        protocols(),
        startWith(),
        whole.number("port", 65_535),
        new Commands(
            whole.part("check").map(part -> command(part.only(COMMAND_NAMES))),
            taking("new-files"),
            taking("new-settings")),
        form(),
        other.isPresent() ? List.of() : otherForms(settings),
        whole.list("harmless"));
  }

  private static void checkName(YamlPart part, String name, String where) {
    if (!name.matches(NAME)) {
      part.wrong(where, "A name is of small letters, digits and dashes.");
    }
  }

  private String form() {
    String form = whole.text("form").orElse(USUAL_FORM);
    checkName(whole, form, "form");
    return other.orElse(form);
  }

  /** The same server with other files and settings in the place of those of the whole. */
  private List<OtherForm> otherForms(List<SettingsPart> usual) {
    List<OtherForm> forms = new ArrayList<>();
    Optional<YamlPart> part = whole.part("other-forms");
    if (part.isPresent() && !whole.has("form")) {
      whole.wrong("other-forms", "'form' is missing: how the form of 'files' is called.");
    }
    for (String name : part.map(YamlPart::names).orElse(List.of())) {
      checkName(part.orElseThrow(), name, name);
      if (name.equals(form())) {
        part.get().wrong(name, YamlPart.quoted(name) + " is the usual form already.");
      }
      part.get().part(name).ifPresent(form -> forms.add(otherForm(name, form, usual)));
    }
    return forms;
  }

  private OtherForm otherForm(String name, YamlPart form, List<SettingsPart> usual) {
    form.only("set", "files", "settings");
    Map<List<String>, List<String>> set = new LinkedHashMap<>();
    form.leaves("set").forEach(leaf -> set.put(leaf.key(), leaf.values()));
    if (set.isEmpty()) {
      form.wrong("set", "'set' is missing: the settings by which this form is seen.");
    }
    if (!form.has("settings")) {
      form.wrong("settings", "'settings' is missing: this form has other ones.");
    }
    YamlPart overlaid = whole.overlaid(form, "files", "settings");
    Description description =
        new DescriptionReader(overlaid, mistakes, Optional.of(name)).description();
    if (!main(description.settings()).equals(main(usual))) {
      form.wrong("settings", "The first settings file of each form is the same.");
    }
    return new OtherForm(set, description);
  }

  private static Optional<String> main(List<SettingsPart> settings) {
    return settings.stream().findFirst().map(one -> one.file().toString());
  }

  /** A path below the home: nothing in it leads out again. */
  private String relative(YamlPart part, String name, String otherwise) {
    String text = part.text(name).orElse(otherwise);
    SettingsReader.outside(text).ifPresent(what -> part.wrong(name, what));
    return text;
  }

  private Where where() {
    YamlPart where = whole.part("where").orElse(null);
    if (where == null) {
      whole.wrong(
          "where", "'where' is missing: it tells in which folders the server is looked for.");
      return new Where(
          List.of(),
          List.of(),
          List.of(),
          Optional.empty(),
          Optional.empty(),
          Optional.empty(),
          List.of(),
          Optional.empty());
    }
    where.only(
        "home",
        "within",
        "program",
        "account",
        "account-setting",
        "process",
        "process-words",
        "script");
    List<String> homes = where.list("home");
    if (homes.isEmpty()) {
      where.wrong("home", "'home' is missing: the folder of its settings.");
    }
    for (String name : List.of("home", "within", "program")) {
      for (String path : where.list(name)) {
        boolean absolute = path.startsWith("/") || path.matches("[A-Za-z]:[/\\\\].*");
        if (!absolute || path.contains("..")) {
          where.wrong(name, YamlPart.quoted(path) + " is not a whole path.");
        } else if (path.matches("/+|[A-Za-z]:[/\\\\]*") && !name.equals("program")) {
          where.wrong(name, "The whole machine is not the folder of a server.");
        }
      }
    }
    return new Where(
        homes,
        where.list("within"),
        where.list("program"),
        account(where, "account"),
        where.text("account-setting"),
        where.text("process"),
        where.list("process-words"),
        script(where));
  }

  private static Optional<String> script(YamlPart where) {
    Optional<String> script = where.text("script");
    if (script.isPresent() && !script.get().matches("[A-Za-z0-9][A-Za-z0-9@._-]{0,63}")) {
      where.wrong("script", YamlPart.quoted(script.get()) + " is not the name of a script.");
    }
    return script;
  }

  private static Optional<String> account(YamlPart part, String name) {
    Optional<String> account = part.text(name);
    if (account.isPresent()
        && !account.get().equals(Description.HOME_OWNER)
        && !Description.ACCOUNT.matcher(account.get()).matches()) {
      part.wrong(name, YamlPart.quoted(account.get()) + " is not the name of an account.");
    }
    return account;
  }

  private Optional<Sections> places() {
    Optional<YamlPart> part = whole.part("places");
    if (part.isEmpty()) {
      return Optional.empty();
    }
    part.get().only("section");
    List<Template> names = new ArrayList<>();
    for (String name : part.get().list("section")) {
      Template template = Template.of(name);
      for (String each : template.names()) {
        if (!Set.of("port", "address", "name").contains(each)) {
          part.get().wrong("section", "{" + each + "} is not {port}, {address} or {name}.");
        }
      }
      if (template.isConstant()) {
        part.get().wrong("section", "It has no {port} or {name}: then there is one place alone.");
      }
      names.add(template);
    }
    if (names.isEmpty()) {
      names.add(Template.of(part.get().needed("section")));
    }
    return Optional.of(new Sections(List.copyOf(names)));
  }

  private Map<String, Command> turning() {
    Map<String, Command> commands = new LinkedHashMap<>();
    Optional<YamlPart> turn = whole.part("turn");
    for (String name : turn.map(YamlPart::names).orElse(List.of())) {
      checkName(turn.orElseThrow(), name, name);
      turn.flatMap(one -> one.part(name))
          .ifPresent(part -> commands.put(name, command(part.only(COMMAND_NAMES))));
    }
    return commands;
  }

  private static final String[] COMMAND_NAMES = {
    "run", "as-account", "good", "right", "wrong", "seconds"
  };

  private static final String[] TAKING_NAMES = {
    "run",
    "or-run",
    "as-account",
    "good",
    "right",
    "wrong",
    "seconds",
    "interrupts",
    "by-itself",
    "says"
  };

  private Command command(YamlPart part) {
    return command(part, "run");
  }

  private Command command(YamlPart part, String key) {
    List<String> words = part.list(key);
    if (words.isEmpty() || words.get(0).isBlank()) {
      part.wrong(key, "'" + key + "' is missing: the program and its words, as a list.");
    }
    List<Template> run = new ArrayList<>();
    for (String word : words) {
      Template.mistake(word).ifPresent(what -> part.wrong(key, what));
      Template template = Template.of(word);
      template.names().stream()
          .filter(one -> !CommandPlaces.KNOWN.contains(one))
          .forEach(
              one ->
                  part.wrong(
                      key,
                      "{"
                          + one
                          + "} is not one of "
                          + String.join(", ", CommandPlaces.KNOWN)
                          + "."));
      run.add(template);
    }
    Set<Integer> good = new TreeSet<>();
    for (String code : part.has("good") ? part.list("good") : List.of("0")) {
      if (code.matches("[0-9]{1,3}") && Integer.parseInt(code) < 256) {
        good.add(Integer.parseInt(code));
      } else {
        part.wrong("good", YamlPart.quoted(code) + " is not an exit code.");
      }
    }
    return new Command(
        run,
        part.yes("as-account"),
        good,
        pattern(part, "right"),
        pattern(part, "wrong"),
        part.number("seconds", MOST_SECONDS).orElse(60));
  }

  static Optional<String> pattern(YamlPart part, String name) {
    Optional<String> pattern = part.text(name);
    try {
      pattern.ifPresent(BoundedMatch::check);
    } catch (SymbolonException e) {
      part.wrong(name, e.statement() + " " + e.seen());
    }
    return pattern;
  }

  private Taking taking(String name) {
    Optional<YamlPart> part = whole.part(name);
    if (part.isEmpty()) {
      return new Taking(List.of(), true, false, Optional.empty());
    }
    part.get().only(TAKING_NAMES);
    boolean itself = part.get().yes("by-itself");
    if (itself && part.get().has("run")) {
      part.get().wrong("run", "What the server does by itself needs no program.");
    }
    List<Command> commands = new ArrayList<>();
    if (part.get().has("run")) {
      commands.add(command(part.get()));
    }
    if (part.get().has("or-run")) {
      commands.add(command(part.get(), "or-run"));
    }
    return new Taking(
        List.copyOf(commands), part.get().yes("interrupts"), itself, part.get().text("says"));
  }

  private ProtocolWords protocols() {
    Map<String, String> words = new LinkedHashMap<>();
    for (ProtocolVersion version : ProtocolVersion.values()) {
      words.put(version.platformName(), version.platformName());
    }
    Optional<YamlPart> part = whole.part("protocols");
    part.ifPresent(one -> one.only("words", "joined-by"));
    Optional<YamlPart> own = part.flatMap(one -> one.part("words"));
    for (String name : own.map(YamlPart::names).orElse(List.of())) {
      if (words.containsKey(name)) {
        words.put(name, own.orElseThrow().needed(name));
      } else {
        own.orElseThrow()
            .wrong(name, YamlPart.quoted(name) + " is not a version, such as TLSv1.3.");
      }
    }
    return new ProtocolWords(words, part.flatMap(one -> one.text("joined-by")).orElse(" "));
  }

  private Optional<StartWith> startWith() {
    Set<String> known = new LinkedHashSet<>();
    for (StartWith one : StartWith.values()) {
      known.add(one.name().toLowerCase(Locale.ROOT));
    }
    return whole
        .word("start-with", known)
        .map(word -> StartWith.valueOf(word.toUpperCase(Locale.ROOT)));
  }
}
