// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.Line;
import io.symbolon.describe.Description.ListItem;
import io.symbolon.describe.Description.SettingsPart;
import io.symbolon.describe.Description.WantedFile;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.seal.Secret;
import io.symbolon.server.InheritingPlaces;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.ClearPlaces;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.NotUnderstood;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingsFiles;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** The settings of a described server as they are. */
final class DescribedReading {
  private static final Set<String> OFF = Set.of("no", "false", "off", "0");
  private static final Pattern VERSION = Pattern.compile("-\\d");

  private final Description description;
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final List<PartFiles> parts = new ArrayList<>();
  private final InheritingPlaces.Read inheriting;
  private final List<NotUnderstood> unknown;
  private final List<Finding> findings = new ArrayList<>();

  DescribedReading(Description description, Machine machine, Installation installation) {
    this.description = description;
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), description.title());
    for (SettingsPart part : description.settings()) {
      parts.add(new PartFiles(machine, part, installation.home(), path(part.file()), files));
    }
    this.inheriting =
        InheritingPlaces.of(description.name())
            .map(one -> one.read(machine, installation, files::find, this::setting))
            .orElse(InheritingPlaces.Read.NOTHING);
    List<NotUnderstood> all = new ArrayList<>(UnknownSettings.of(description, parts));
    all.addAll(inheriting.aboutMain());
    this.unknown = List.copyOf(all);
  }

  /** What a setting of the first file says, or what is taken for it. */
  private Optional<String> setting(String key) {
    PartFiles part = parts.get(0);
    return part.find(List.of(key))
        .map(found -> part.resolved(found.entry().value()))
        .or(() -> Optional.ofNullable(part.wanted().usual().get(List.of(key))));
  }

  /** The account that reads its files: the one that its settings name, or the usual one. */
  Optional<String> account() {
    return description
        .where()
        .accountSetting()
        .flatMap(this::setting)
        .filter(Description.ACCOUNT.asMatchPredicate())
        .or(() -> description.account(machine, installation));
  }

  List<PartFiles> parts() {
    return parts;
  }

  SettingsFiles files() {
    return files;
  }

  /** A path of the description, below the home or whole. */
  private Path path(Template template) {
    return path(installation.home(), template);
  }

  private Path path(Path folder, Template template) {
    String text =
        template
            .fill(
                name ->
                    name.equals("home")
                        ? Optional.of(installation.home().toString())
                        : Optional.empty())
            .orElse(template.toString());
    return machine.below(folder, text).toAbsolutePath().normalize();
  }

  Settings settings() {
    List<TlsPlace> places = new ArrayList<>(places().stream().map(this::place).toList());
    places.addAll(inheriting.places());
    if (places.isEmpty()) {
      unknown.forEach(one -> findings.add(one.finding(Level.WARNING)));
    }
    findings.addAll(ClearPlaces.findings(description.title(), places, place -> false));
    return new Settings(installation, places, files.paths(), findings);
  }

  /** The places: the sections of their form, or the whole server. */
  List<DescribedPlace> places() {
    if (description.places().isEmpty()) {
      return List.of(DescribedPlace.WHOLE);
    }
    List<DescribedPlace> places = new ArrayList<>();
    for (PartFiles.Section section : parts.get(0).sections()) {
      description
          .places()
          .orElseThrow()
          .values(section.name())
          .ifPresent(values -> places.add(new DescribedPlace(Optional.of(section.name()), values)));
    }
    return places;
  }

  /** Whether the main settings file has each of these keys with one of its values. */
  boolean has(Map<List<String>, List<String>> wanted) {
    return wanted.entrySet().stream()
        .allMatch(
            one ->
                parts
                    .get(0)
                    .find(one.getKey())
                    .filter(found -> one.getValue().contains(found.entry().value()))
                    .isPresent());
  }

  /** The name by which a place is chosen. */
  String name(DescribedPlace place) {
    return place.values().containsKey("name")
        ? place.values().get("name")
        : place.section().orElse(description.name());
  }

  TlsPlace place(DescribedPlace place) {
    Origin origin = origin(place);
    boolean tls = isTls(place, origin);
    Mode mode = tls ? mode(place) : Mode.CLEAR;
    List<UsedFile> used = tls ? used(place, mode, origin) : List.of();
    return TlsPlace.at(
            place.section().isPresent()
                ? PlaceId.at(origin.file(), origin.line())
                : PlaceId.only(installation.main(), "server"),
            origin,
            name(place),
            description.places().isEmpty() ? "server" : "section")
        .endpoints(endpoints(place, tls))
        .mode(mode)
        .files(used)
        .protocols(raw(place, "protocols", "protocol.least"))
        .ciphers(raw(place, "ciphers"))
        .account(account().flatMap(machine::account))
        .startWith(description.startWith())
        .notUnderstood(unknown)
        .notUnderstood(instead(place))
        .build();
  }

  /**
   * Settings that count instead of those that are read, and keys of which one is read of several.
   */
  private List<NotUnderstood> instead(DescribedPlace place) {
    List<NotUnderstood> all = new ArrayList<>();
    for (PartFiles part : parts) {
      for (List<String> key : part.wanted().instead()) {
        part.find(place.key(key))
            .filter(found -> !found.entry().value().isBlank())
            .filter(found -> !isUsual(part, key, found.entry().value()))
            .ifPresent(
                found ->
                    all.add(
                        notUnderstood(
                            Aspect.CERTIFICATE,
                            found,
                            " is set and counts instead of, or beside, the settings that are read"
                                + " here.")));
      }
      for (Line line : part.wanted().lines()) {
        List<PartFiles.Found> found = part.all(place.key(line.key()));
        several(line, found).ifPresent(all::add);
        part.find(place.key(line.key()))
            .filter(one -> part.resolved(one.entry().value()).indexOf('$') >= 0)
            .filter(one -> part.wanted().variables().isPresent())
            .ifPresent(
                one ->
                    all.add(
                        notUnderstood(
                            Aspect.CERTIFICATE,
                            one,
                            " has a name in it that stands for something not known here.")));
      }
    }
    return all;
  }

  /** Whether a value says no more than what counts where nothing is set. */
  private static boolean isUsual(PartFiles part, List<String> key, String value) {
    String usual = part.wanted().usual().getOrDefault(key, "").toLowerCase(Locale.ROOT);
    String word = value.strip().toLowerCase(Locale.ROOT);
    return !usual.isEmpty() && (word.equals(usual) || (OFF.contains(word) && OFF.contains(usual)));
  }

  /**
   * Several listeners under a key that stands for any of them; or a section for one version of the
   * server, which counts for that version alone.
   */
  private static Optional<NotUnderstood> several(Line line, List<PartFiles.Found> found) {
    List<String> key = line.key();
    boolean listeners = key.get(key.size() - 1).indexOf('*') >= 0;
    boolean sections = !listeners && key.stream().anyMatch(one -> one.indexOf('*') >= 0);
    List<List<String>> there = found.stream().map(one -> one.entry().key()).distinct().toList();
    boolean forVersions =
        sections && there.stream().anyMatch(one -> VERSION.matcher(one.get(0)).find());
    if (!forVersions && !(listeners && there.size() > 1)) {
      return Optional.empty();
    }
    return Optional.of(
        notUnderstood(
            listeners ? Aspect.ADDRESSES : Aspect.CERTIFICATE,
            found.get(found.size() - 1),
            listeners
                ? " is one of several listeners; only one is read here."
                : " is set in a section for one version of the server, which is not known here."));
  }

  private static NotUnderstood notUnderstood(Aspect aspect, PartFiles.Found found, String what) {
    return new NotUnderstood(
        aspect,
        new Origin(found.text().source().path(), found.line()),
        VisibleText.of(String.join(" / ", found.entry().key())) + what,
        "Change these settings by hand.");
  }

  private Origin origin(DescribedPlace place) {
    if (place.section().isPresent()) {
      for (PartFiles.Section section : parts.get(0).sections()) {
        if (section.name().equals(place.section().get())) {
          return new Origin(section.text().source().path(), section.line());
        }
      }
    }
    for (PartFiles part : parts) {
      for (Line line : part.wanted().lines()) {
        Optional<PartFiles.Found> found = part.find(place.key(line.key()));
        if (found.isPresent() && line.when() == When.ALWAYS) {
          return new Origin(found.get().text().source().path(), found.get().line());
        }
      }
    }
    return new Origin(installation.main(), 1);
  }

  /** Whether everything is there that tells so; a part of it is told. */
  private boolean isTls(DescribedPlace place, Origin origin) {
    List<String> there = new ArrayList<>();
    List<String> missing = new ArrayList<>();
    boolean all = true;
    for (PartFiles part : parts) {
      for (Line line : part.wanted().lines()) {
        if (line.when() != When.ALWAYS || isOptional(line)) {
          continue;
        }
        boolean matches = matches(part, place, line);
        all &= matches;
        if (line.written().names().stream().anyMatch(one -> one.endsWith(".path"))) {
          (matches ? there : missing).add(String.join(" / ", line.key()));
        }
      }
    }
    all &= parts.stream().allMatch(part -> hasWords(part, place));
    if (!there.isEmpty() && !missing.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.WARNING,
              origin.toString(),
              name(place)
                  + " has the setting "
                  + VisibleText.of(String.join(", ", there))
                  + " and lacks "
                  + VisibleText.of(String.join(", ", missing))
                  + ": it may speak clear text there, or not start.",
              "Let Symbolon write all of them: name the key and its certificate."));
    }
    return all;
  }

  /** Whether the lists have the words that tell so, such as a listener of its own for TLS. */
  private static boolean hasWords(PartFiles part, DescribedPlace place) {
    return part.wanted().lists().stream()
        .filter(ListItem::tells)
        .allMatch(item -> word(part, place, item).isPresent());
  }

  private static Optional<String> word(PartFiles part, DescribedPlace place, ListItem item) {
    return part.find(place.key(item.key()))
        .flatMap(found -> item.in(item.words(found.entry().value())));
  }

  /** What a server does without as well: words for versions, suites, ports. */
  private static boolean isOptional(Line line) {
    return line.written().names().stream()
        .anyMatch(
            one ->
                one.startsWith("protocol")
                    || one.equals("ciphers")
                    || one.equals("host")
                    || one.equals("address")
                    || one.equals("clear-port"));
  }

  boolean matches(PartFiles part, DescribedPlace place, Line line) {
    Optional<String> value = value(part, place, line);
    return value.isPresent() && line.values().stream().anyMatch(one -> isOf(one, value.get()));
  }

  private static boolean isOf(Template template, String value) {
    return template.isConstant()
        ? template.constant().equalsIgnoreCase(value)
        : template
            .values(value)
            .filter(found -> !found.containsValue(""))
            .filter(
                found -> !found.containsKey("port") || found.get("port").matches("[1-9]\\d{0,4}"))
            .isPresent();
  }

  /** What counts: what is there, else what the server takes by itself. */
  Optional<String> value(PartFiles part, DescribedPlace place, Line line) {
    return part.find(place.key(line.key()))
        .map(found -> part.resolved(found.entry().value()))
        .or(() -> Optional.ofNullable(part.wanted().usual().get(line.key())));
  }

  /** The strictest mode whose settings are all there. */
  private Mode mode(DescribedPlace place) {
    if (!asks(place)) {
      return Mode.ONE_WAY;
    }
    boolean mutual = has(When.MUTUAL);
    boolean optional = has(When.OPTIONAL);
    if (mutual && all(place, When.MUTUAL)) {
      return Mode.MUTUAL;
    }
    if (optional && all(place, When.OPTIONAL)) {
      return Mode.OPTIONAL;
    }
    if (!has(When.ASKS_CLIENTS) || (mutual && optional)) {
      return Mode.ONE_WAY;
    }
    return mutual ? Mode.OPTIONAL : Mode.MUTUAL;
  }

  private boolean asks(DescribedPlace place) {
    boolean told = has(When.ASKS_CLIENTS) || has(When.MUTUAL) || has(When.OPTIONAL);
    return told
        && all(place, When.ASKS_CLIENTS)
        && !(has(When.ONE_WAY) && all(place, When.ONE_WAY));
  }

  private boolean has(When when) {
    return parts.stream()
        .flatMap(part -> part.wanted().lines().stream())
        .anyMatch(line -> line.when() == when);
  }

  private boolean all(DescribedPlace place, When when) {
    return parts.stream()
        .allMatch(
            part ->
                part.wanted().lines().stream()
                    .filter(line -> line.when() == when)
                    .allMatch(line -> matches(part, place, line)));
  }

  private List<Endpoint> endpoints(DescribedPlace place, boolean tls) {
    Optional<String> port =
        Optional.ofNullable(place.values().get("port"))
            .or(() -> placeholder(place, "port").map(Value::text))
            .filter(one -> one.matches("[1-9]\\d{0,4}"))
            .or(() -> description.port().map(String::valueOf));
    String addresses =
        Optional.ofNullable(place.values().get("address"))
            .or(() -> placeholder(place, "address").map(Value::text))
            .orElse("*");
    List<Endpoint> endpoints = new ArrayList<>();
    List<Endpoint> clear = new ArrayList<>();
    for (String one : addresses.strip().split("[,\\s]+", -1)) {
      String written = one.replaceFirst("^-(?=.)", "").replaceAll("^\\[|\\]$", "");
      boolean all = written.isEmpty() || written.equals("*") || written.equals("0.0.0.0");
      String host = all ? "" : written;
      port.map(number -> new Endpoint(host, Integer.parseInt(number), tls))
          .ifPresent(endpoints::add);
      clearPort(place).map(number -> new Endpoint(host, number, false)).ifPresent(clear::add);
    }
    if (tls && !clear.isEmpty()) {
      tellOpen(place, clear.get(0).port());
    }
    return Stream.concat(
            tls || clear.isEmpty() ? endpoints.stream() : Stream.empty(), clear.stream())
        .distinct()
        .toList();
  }

  /** The port in clear text that is open, beside TLS or without it; nothing where none is known. */
  Optional<Integer> clearPort(DescribedPlace place) {
    return placeholder(place, "clear-port")
        .map(Value::text)
        .filter(one -> one.matches("[1-9]\\d{0,4}"))
        .map(Integer::valueOf);
  }

  private void tellOpen(DescribedPlace place, int port) {
    Finding open =
        Finding.of(
            FindingKind.CLEAR_TEXT_OPEN,
            origin(place).toString(),
            name(place)
                + " also accepts unencrypted connections, on port "
                + port
                + ". It asks for no certificate there.",
            "Let the clients use TLS. Then close port "
                + port
                + " in the settings of "
                + description.title()
                + ".");
    if (!findings.contains(open)) {
      findings.add(open);
    }
  }

  /**
   * A value of a placeholder, as it is in the settings.
   *
   * @param text the value
   * @param found where it stands
   */
  record Value(String text, Optional<PartFiles.Found> found) {}

  /** The placeholders that begin so: a password as it is, and as a program turns it. */
  List<String> placeholders(String start) {
    return parts.stream()
        .flatMap(part -> part.wanted().lines().stream())
        .flatMap(line -> line.written().names().stream())
        .filter(name -> name.equals(start) || name.startsWith(start + " by "))
        .distinct()
        .toList();
  }

  /** What the settings have in the place of a placeholder. */
  Optional<Value> placeholder(DescribedPlace place, String name) {
    for (PartFiles part : parts) {
      for (Line line : part.wanted().lines()) {
        for (Template template : line.values()) {
          if (!template.has(name)) {
            continue;
          }
          Optional<String> value =
              value(part, place, line)
                  .flatMap(template::values)
                  .map(found -> found.get(name))
                  .map(String::strip)
                  .filter(one -> !one.isEmpty());
          if (value.isPresent()) {
            return Optional.of(new Value(value.get(), part.find(place.key(line.key()))));
          }
        }
      }
      for (ListItem item : part.wanted().lists()) {
        Optional<String> value =
            word(part, place, item)
                .flatMap(item::values)
                .map(found -> found.get(name))
                .filter(one -> !one.isEmpty());
        if (value.isPresent()) {
          return Optional.of(new Value(value.get(), part.find(place.key(item.key()))));
        }
      }
    }
    return Optional.empty();
  }

  /** The whole values of the settings with one of these placeholders. */
  private Optional<String> raw(DescribedPlace place, String... names) {
    for (PartFiles part : parts) {
      for (Line line : part.wanted().lines()) {
        for (String name : names) {
          if (line.written().has(name)) {
            Optional<String> value = value(part, place, line);
            if (value.isPresent()) {
              return value;
            }
          }
        }
      }
    }
    return Optional.empty();
  }

  private List<UsedFile> used(DescribedPlace place, Mode mode, Origin origin) {
    List<UsedFile> used = new ArrayList<>();
    for (WantedFile file : description.files().values()) {
      if (!file.isOfServer() && !mode.asksClients()) {
        continue;
      }
      Optional<Named> named = named(place, file);
      if (named.isEmpty() && isNamed(file)) {
        continue; // a setting could name it, and none does
      }
      Path path = named.map(Named::path).orElseGet(() -> path(filesFolder(), file.path()));
      if (named.isEmpty() && !file.isOfServer() && !machine.files().exists(path)) {
        continue;
      }
      used.add(
          used(
              file,
              UsedFile.of(
                      role(file),
                      path,
                      named.map(Named::setting).orElse(description.title()),
                      named.map(Named::origin).orElse(origin))
                  .withPasswords(passwords(place, file, path))
                  .withKeyPasswords(
                      file.otherKeyPassword()
                          ? List.of() // it is among them
                          : password(place, file, ".key-password", path))
                  .withAlias(placeholder(place, file.name() + ".alias").map(Value::text))));
    }
    return used;
  }

  private static UsedFile used(WantedFile wanted, UsedFile file) {
    return wanted.byRoot() ? file.readByRoot() : file;
  }

  /** A file as a setting names it. */
  record Named(Path path, String setting, Origin origin) {}

  private boolean isNamed(WantedFile file) {
    return parts.stream()
        .flatMap(part -> part.wanted().lines().stream())
        .anyMatch(
            line ->
                line.written().has(file.name() + ".path")
                    || line.written().has(file.name() + ".name"));
  }

  Optional<Named> named(DescribedPlace place, WantedFile file) {
    return placeholder(place, file.name() + ".path")
        .map(value -> named(value, machine.below(folder(), value.text())))
        .or(
            () ->
                placeholder(place, file.name() + ".name")
                    .map(value -> named(value, machine.below(filesFolder(), value.text()))));
  }

  private Named named(Value value, Path path) {
    return new Named(
        path.toAbsolutePath().normalize(),
        value.found().map(one -> String.join(" / ", one.entry().key())).orElse(""),
        value
            .found()
            .map(one -> new Origin(one.text().source().path(), one.line()))
            .orElse(new Origin(installation.main(), 1)));
  }

  private Path folder() {
    return description.settings().get(0).pathsFromHome()
        ? installation.home()
        : Optional.ofNullable(installation.main().getParent()).orElse(installation.home());
  }

  private Path filesFolder() {
    return installation.home().resolve(description.folder());
  }

  private static FileRole role(WantedFile file) {
    if (file.holds().contains(Holds.TRUST)) {
      return FileRole.TRUST;
    }
    if (file.holds().contains(Holds.LISTS)) {
      return FileRole.LISTS;
    }
    if (file.holds().contains(Holds.KEY)) {
      return file.as().isStore() || file.holds().size() > 1 ? FileRole.KEYSTORE : FileRole.KEY;
    }
    return file.holds().contains(Holds.CERTIFICATE) ? FileRole.CERTIFICATE : FileRole.CHAIN;
  }

  /** A password as a setting has it. */
  private List<Secret> password(DescribedPlace place, WantedFile file, String property, Path path) {
    return placeholder(place, file.name() + property)
        .map(one -> Secret.of(ObscuredWord.plain(one.text()).toCharArray(), path.toString()))
        .stream()
        .toList();
  }

  /** Its passwords: as settings have them, else those in the file beside it. */
  List<Secret> passwords(DescribedPlace place, WantedFile file, Path path) {
    if (!file.sealed()) {
      return List.of();
    }
    List<Secret> open = new ArrayList<>();
    for (String name :
        file.otherKeyPassword() ? List.of(".password", ".key-password") : List.of(".password")) {
      open.addAll(password(place, file, name, path));
    }
    if (open.size() == (file.otherKeyPassword() ? 2 : 1)) {
      return open;
    }
    Path beside =
        placeholder(place, file.name() + ".password-file")
            .map(value -> machine.below(folder(), value.text()))
            .orElse(PasswordLines.beside(path));
    List<Secret> there = PasswordLines.of(machine.files(), beside);
    return there.isEmpty() ? open : there;
  }

  /** Whether a setting has a value already, or what is taken for it. */
  boolean isAsWanted(PartFiles part, DescribedPlace place, Line line, String wanted) {
    Optional<PartFiles.Found> there = part.find(place.key(line.key()));
    if (there.isPresent()) {
      String now = part.resolved(there.get().entry().value());
      if (now.equals(wanted) || isSpelledOtherwise(line, now, wanted)) {
        return true;
      }
    }
    return line.isConstant() && matches(part, place, line);
  }

  /** Whether another spelling of a line says the same, such as a port behind its address. */
  private static boolean isSpelledOtherwise(Line line, String now, String wanted) {
    Optional<Map<String, String>> said = line.written().values(wanted);
    return said.isPresent()
        && line.values().stream()
            .skip(1)
            .flatMap(spelling -> spelling.values(now).stream())
            .anyMatch(found -> found.entrySet().containsAll(said.get().entrySet()));
  }
}
