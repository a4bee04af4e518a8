// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.describe.Description.Command;
import io.symbolon.describe.Description.Line;
import io.symbolon.describe.Description.ListItem;
import io.symbolon.describe.Description.WantedFile;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.SourceText;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.ServerRoles;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** What would change in the files of a described server so that it does what is wanted. */
final class Proposing {
  private final Description description;
  private final Machine machine;
  private final Installation installation;
  private final Wish wish;
  private final DescribedReading reading;
  private final Inside inside;
  private final DescribedPlace place;
  private final Optional<TlsPlace> before;
  private final Mode mode;
  private final DescribedFiles contents;
  private final PlacedFiles placed;
  private final Map<String, String> values = new HashMap<>();
  private final Map<String, Secret> secrets = new HashMap<>(); // what is turned by a program
  private final List<Secret> turned = new ArrayList<>();
  private final Set<String> unchanged = new LinkedHashSet<>(); // stores that stay as they are
  private final List<Finding> findings = new ArrayList<>();

  Proposing(Description description, Machine machine, Installation installation, Wish wish) {
    this.description = description;
    this.machine = machine;
    this.installation = installation;
    this.wish = wish;
    this.reading = new DescribedReading(description, machine, installation);
    this.inside = new Inside(description, machine, installation);
    this.place = choose();
    this.before = isNew() ? Optional.empty() : Optional.of(reading.place(place));
    this.mode =
        wish.mode().or(() -> before.map(TlsPlace::mode).filter(Mode::isTls)).orElse(Mode.ONE_WAY);
    refuse();
    Credential credential = wish.credentials().get(0);
    this.contents = new DescribedFiles(machine, credential, wish.trust());
    Path folder =
        wish.folder()
            .orElse(installation.home().resolve(description.folder()))
            .toAbsolutePath()
            .normalize();
    this.placed = new PlacedFiles(machine, folder, wish.owner());
  }

  Proposal proposal() {
    plain();
    for (WantedFile file : description.files().values()) {
      boolean clients = wish.mode().isPresent() && mode.asksClients();
      boolean lists = wish.trust().filter(one -> !one.lists().isEmpty()).isPresent();
      if (file.isWanted(clients, lists)) {
        file(file);
      }
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    for (PartFiles part : reading.parts()) {
      settings(part).stream().map(change -> change.hiding(hidden())).forEach(changes::add);
    }
    return new Proposal(
        installation,
        before
            .map(ProposedPlace::of)
            .orElse(ProposedPlace.made(reading.name(place), installation.main())),
        changes,
        placed.newFolders(),
        roles(),
        findings);
  }

  private List<Proposal.Step> roles() {
    if (wish.roles().isEmpty()) {
      return List.of();
    }
    if (!mode.asksClients()) {
      throw refused(
          "A role is let in by its certificate, and no client is to be asked for one.",
          "Name the authorities of the clients: " + Input.CLIENT_AUTHORITIES.mention("FILE..."));
    }
    return ServerRoles.of(description.name())
        .map(one -> one.propose(machine, installation, wish.roles()))
        .orElse(List.of());
  }

  // --- which place, and whether it can be done

  private boolean isNew() {
    return place.section().isPresent()
        && reading.places().stream().noneMatch(one -> one.section().equals(place.section()));
  }

  private DescribedPlace choose() {
    List<DescribedPlace> places = reading.places();
    if (description.places().isEmpty()) {
      if (wish.site().isPresent()) {
        TlsPlace unused =
            PlaceChoice.of(description.title(), List.of(reading.place(places.get(0))), wish);
      }
      return places.get(0);
    }
    Optional<String> port = wish.port().map(String::valueOf);
    boolean there = port.isEmpty() || places.stream().anyMatch(one -> port.equals(port(one)));
    if (wish.site().isEmpty() && (places.isEmpty() || !there)) {
      return fresh(port);
    }
    List<TlsPlace> all = places.stream().map(reading::place).toList();
    boolean clear = all.stream().noneMatch(TlsPlace::isTls);
    if (clear && wish.site().isEmpty() && wish.port().isEmpty() && description.port().isPresent()) {
      return fresh(port); // beside what is in clear text: its clients go on
    }
    TlsPlace chosen = PlaceChoice.of(description.title(), all, wish);
    return places.get(all.indexOf(chosen));
  }

  private Optional<String> port(DescribedPlace one) {
    return reading.place(one).endpoints().stream()
        .findFirst()
        .map(end -> String.valueOf(end.port()));
  }

  /** A section that is not there yet. */
  private DescribedPlace fresh(Optional<String> port) {
    Map<String, String> own = new LinkedHashMap<>();
    own.put("port", port.or(() -> description.port().map(String::valueOf)).orElse(""));
    own.put("address", "");
    Template form = description.places().orElseThrow().written();
    if (form.has("name")) {
      own.put("name", baseName());
    }
    String name =
        form.fill(
                one ->
                    Optional.ofNullable(own.get(one))
                        .filter(v -> !one.equals("port") || !v.isEmpty()))
            .orElseThrow(
                () ->
                    refused(
                        "No port is given on which " + description.title() + " is to speak TLS.",
                        "Say it: " + Input.PORT.mention("PORT") + "."))
            .strip();
    return new DescribedPlace(Optional.of(name), own);
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          description.title() + " shows one certificate, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "The description of "
              + description.title()
              + " does not say how it redirects or sends a header.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out.");
    }
    if (!description.modes().contains(mode)) {
      throw refused(
          description.title() + " has no mode " + mode.word() + ", as it is described.",
          "Choose another one: " + Input.MODE.mention("MODE") + ".");
    }
    if (wish.ciphers().isPresent() && !isAsked("ciphers")) {
      throw refused(
          "The description of " + description.title() + " does not say where cipher suites stand.",
          "Leave " + Input.CIPHERS.mention() + " out.");
    }
    boolean portIsThere =
        wish.port().isEmpty()
            || place.values().containsKey("port")
            || isAsked("port")
            || before
                .map(TlsPlace::endpoints)
                .map(all -> all.stream().anyMatch(end -> wish.port().get() == end.port()))
                .orElse(wish.port().equals(description.port()));
    if (!portIsThere) {
      throw refused(
          "The description of " + description.title() + " does not say where its port stands.",
          "Leave " + Input.PORT.mention() + " out.");
    }
    boolean lists = wish.trust().filter(one -> !one.lists().isEmpty()).isPresent();
    boolean takesLists =
        description.files().values().stream().anyMatch(one -> one.holds().contains(Holds.LISTS));
    if (lists && !takesLists) {
      throw refused(
          description.title()
              + " takes no revocation lists, as it is described: revoked clients would get in.",
          "Leave the lists out of " + Input.CLIENT_AUTHORITIES.mention() + " if that is meant.");
    }
  }

  private boolean isAsked(String name) {
    return description.settings().stream()
        .flatMap(
            part ->
                Stream.concat(
                    part.lines().stream()
                        .filter(line -> line.when() != When.SEEN)
                        .flatMap(line -> line.values().stream()),
                    part.lists().stream().map(ListItem::item)))
        .anyMatch(one -> one.has(name));
  }

  static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  // --- values

  private String baseName() {
    String base = FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
    return base.isEmpty() ? "server" : base;
  }

  private void plain() {
    String host = baseName();
    values.put("host", host);
    int dot = host.indexOf('.');
    values.put("short", dot > 0 ? host.substring(0, dot) : host);
    values.put("server", description.name());
    values.put("home", Machine.withSlashes(installation.home()));
    values.put("folder", Machine.withSlashes(placed.folder()));
    reading.account().ifPresent(one -> values.put("account", one));
    Optional<Integer> there =
        before.stream()
            .flatMap(one -> one.endpoints().stream())
            .map(Endpoint::port)
            .filter(port -> !reading.clearPort(place).equals(Optional.of(port)))
            .findFirst();
    wish.port()
        .or(() -> there)
        .or(description::port)
        .ifPresent(port -> values.put("port", String.valueOf(port)));
    wish.ciphers().ifPresent(words -> values.put("ciphers", words));
    wish.versions(before.filter(TlsPlace::isTls).isPresent()).ifPresent(this::versions);
  }

  private void versions(List<ProtocolVersion> wanted) {
    List<String> versions =
        wanted.stream()
            .map(one -> description.protocols().words().getOrDefault(one.platformName(), ""))
            .toList();
    values.put("protocols", String.join(description.protocols().joinedBy(), versions));
    values.put("protocol.least", versions.get(0));
    values.put("protocol.most", versions.get(versions.size() - 1));
  }

  private void file(WantedFile file) {
    Path path =
        placed
            .folder()
            .resolve(
                machine.below(
                    placed.folder(),
                    file.path().fill(name -> Optional.ofNullable(values.get(name))).orElseThrow()))
            .normalize();
    if (wish.folder().isEmpty() || !path.startsWith(placed.folder())) {
      inside.check(path);
    }
    Optional<String> alias = contents.alias(file, values);
    List<Secret> known = reading.passwords(place, file, path);
    Optional<Owner> owner = owner(file);
    String holds = contents.holds(file);
    values.put(file.name() + ".path", Machine.withSlashes(path));
    values.put(file.name() + ".name", String.valueOf(path.getFileName()));
    alias.ifPresent(one -> values.put(file.name() + ".alias", one));
    if (!file.sealed()) {
      placed.add(
          path,
          contents.octets(file, path, Optional.empty(), Optional.empty(), alias),
          holds,
          file.isSecret(),
          owner);
      return;
    }
    boolean stays =
        known.size() == (file.otherKeyPassword() ? 2 : 1)
            && contents.isThere(file, path, known, alias);
    boolean keeps = file.keepsOthers() && machine.files().exists(path);
    if (keeps && known.isEmpty()) {
      throw refused(
          "The store "
              + VisibleText.of(path.toString())
              + " holds more than this entry, and its password is not known.",
          "Put it into the file " + VisibleText.of(PasswordLines.beside(path).toString()) + ".");
    }
    Secret password = stays || keeps ? known.get(0) : Secret.random(path.toString());
    Optional<Secret> own =
        file.otherKeyPassword()
            ? Optional.of(stays ? known.get(1) : Secret.random(path.toString()))
            : Optional.empty();
    byte[] octets =
        stays
            ? machine.files().read(path, io.symbolon.limit.Limits.FILE_BYTES).orElseThrow().octets()
            : contents.octets(file, path, Optional.of(password), own, alias);
    if (stays) {
      unchanged.add(file.name());
    }
    placed.add(path, octets, holds, true, owner);
    secrets.put(file.name() + ".password", password);
    secrets.put(file.name() + ".key-password", own.orElse(password));
    passwordFile(file, path, password, own, owner);
  }

  /** The password lies beside, where no setting has it as it is. */
  private void passwordFile(
      WantedFile file, Path path, Secret password, Optional<Secret> own, Optional<Owner> owner) {
    Path beside = PasswordLines.beside(path);
    boolean serverReads = isAsked(file.name() + ".password-file");
    boolean open =
        isAsked(file.name() + ".password")
            && (own.isEmpty() || isAsked(file.name() + ".key-password"));
    values.put(file.name() + ".password-file", Machine.withSlashes(beside));
    if (open && !serverReads) {
      return;
    }
    ByteArrayOutputStream lines = new ByteArrayOutputStream();
    lines.writeBytes(PasswordLines.line(password));
    own.ifPresent(one -> lines.writeBytes(PasswordLines.line(one)));
    placed.add(
        beside, lines.toByteArray(), "its password", true, serverReads ? owner : Optional.empty());
  }

  private Optional<Owner> owner(WantedFile file) {
    if (wish.owner().isPresent()) {
      return wish.owner();
    }
    Optional<String> account = reading.account();
    Optional<String> user =
        file.owner()
            .map(one -> one.equals("{account}") ? account.orElse("root") : one)
            .or(() -> file.byRoot() ? Optional.empty() : account);
    if (user.isEmpty() && file.group().isEmpty()) {
      return Optional.empty();
    }
    return machine.owner(
        new Owner(
            user.orElse("root"),
            file.group().map(g -> g.equals("{account}") ? account.orElse("root") : g)));
  }

  // --- settings

  private List<FileChange> settings(PartFiles part) {
    Map<KeyedText, List<KeyedText.Entry>> awayBy = new LinkedHashMap<>();
    List<KeyedText.Fresh> fresh = new ArrayList<>();
    Map<KeyedText, Edits> edits = new LinkedHashMap<>();
    boolean secret = false;
    Set<List<String>> wanted = new LinkedHashSet<>();
    for (Line line : part.wanted().lines()) {
      if (!isWanted(line) || isOverruled(part, line)) {
        continue;
      }
      List<String> key = place.key(line.key());
      Optional<PartFiles.Found> there = part.find(key);
      wanted.add(line.key());
      Optional<String> value = value(line, there);
      if (value.isEmpty() || reading.isAsWanted(part, place, line, value.get())) {
        continue;
      }
      secret |= line.written().names().stream().anyMatch(one -> one.contains("password"));
      KeyedText.Value written = new KeyedText.Value(value.get(), line.bare());
      if (there.isPresent()) {
        KeyedText text = there.get().text();
        text.replace(
            edits.computeIfAbsent(text, one -> new Edits(one.source())),
            there.get().entry(),
            written);
      } else {
        fresh.add(new KeyedText.Fresh(place.fresh(line.key()), written));
      }
    }
    gone(part, wanted, awayBy);
    lists(part, edits, fresh);
    return written(part, awayBy, fresh, edits, secret);
  }

  /**
   * Whether a setting is a part of what is wanted; those for clients stay where nothing is said.
   */
  private boolean isWanted(Line line) {
    boolean lists = wish.trust().filter(one -> !one.lists().isEmpty()).isPresent();
    boolean said =
        wish.mode().isPresent() || line.when() == When.ALWAYS || line.when() == When.ALSO;
    boolean oneWay = before.filter(TlsPlace::isTls).isEmpty() && mode == Mode.ONE_WAY;
    return (said || oneWay) && line.when().applies(mode, lists);
  }

  /** Passwords as they are and as they were, turned or not: none of them is shown. */
  private List<Secret> hidden() {
    List<Secret> hidden = new ArrayList<>(secrets.values());
    hidden.addAll(turned);
    for (WantedFile file : description.files().values()) {
      for (String property : List.of(".password", ".key-password")) {
        for (String name : reading.placeholders(file.name() + property)) {
          reading
              .placeholder(place, name)
              .ifPresent(value -> hidden.add(Secret.of(value.text().toCharArray(), "settings")));
        }
      }
    }
    return hidden;
  }

  /** Whether what is said for the mode has another value for the same key. */
  private boolean isOverruled(PartFiles part, Line line) {
    return line.when() == When.ALWAYS
        && part.wanted().lines().stream()
            .anyMatch(
                other ->
                    other.when().isForModes() && other.key().equals(line.key()) && isWanted(other));
  }

  private Optional<String> value(Line line, Optional<PartFiles.Found> there) {
    return line.written()
        .fill(
            name -> {
              int by = name.indexOf(" by ");
              String plain = by < 0 ? name : name.substring(0, by);
              Secret secret = secrets.get(plain);
              if (secret == null) {
                return Optional.ofNullable(values.get(plain));
              }
              if (by < 0) {
                return Optional.of(new String(secret.reveal()));
              }
              String file = plain.substring(0, plain.indexOf('.'));
              Optional<String> now =
                  there.flatMap(
                      found -> line.written().values(found.entry().value()).map(v -> v.get(name)));
              return unchanged.contains(file) && now.filter(one -> !one.isEmpty()).isPresent()
                  ? now
                  : Optional.of(turned(name.substring(by + 4), secret));
            });
  }

  /** A password as the server's own program makes it. */
  private String turned(String program, Secret secret) {
    Command command = java.util.Objects.requireNonNull(description.turning().get(program));
    Commanding commanding = new Commanding(description, machine, installation);
    var whole =
        commanding
            .command(command)
            .orElseThrow(
                () ->
                    refused(
                        "The program "
                            + program
                            + " can't be run: it needs something that is not known.",
                        "Look at 'turn' in the description."));
    CommandResult result = machine.programs().run(whole, secret);
    if (result.end() == CommandResult.End.REFUSED) {
      throw new SymbolonException(
          Reason.NOT_TRUSTED,
          "Nothing was changed.",
          VisibleText.of(result.output()),
          "Let the program and its folders belong to root or to one account, without rights to"
              + " write for others.");
    }
    String printed = result.output().strip();
    boolean good = whole.isGood(result) && !printed.isEmpty() && !printed.contains("\n");
    if (!good) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The program that turns a password for "
              + description.title()
              + " failed: "
              + VisibleText.of(whole.words().get(0))
              + (result.end() == CommandResult.End.ENDED
                  ? " ended with " + result.exitCode() + "."
                  : " could not be run to its end."),
          "It is told the password on its standard input, and must print one line. Try it by hand.");
    }
    if (printed.contains(new String(secret.reveal()))) {
      findings.add(
          Finding.of(
              FindingKind.PASSWORD_IN_SETTINGS,
              VisibleText.of(installation.main().toString()),
              "What "
                  + VisibleText.of(whole.words().get(0))
                  + " makes of the password still has the password in it.",
              "Look whether it is the right program."));
    }
    turned.add(Secret.of(printed.toCharArray(), whole.words().get(0)));
    return printed;
  }

  /** Settings that go: those of another mode, and those that must not be there. */
  private void gone(
      PartFiles part, Set<List<String>> wanted, Map<KeyedText, List<KeyedText.Entry>> away) {
    Set<List<String>> keys = new LinkedHashSet<>(part.wanted().absent());
    if (wish.mode().isPresent()) {
      part.wanted().lines().stream()
          .filter(line -> line.when().isForModes())
          .map(Line::key)
          .forEach(keys::add);
    }
    keys.removeAll(wanted);
    for (List<String> key : keys) {
      for (PartFiles.Found found : part.all(place.key(key))) {
        away.computeIfAbsent(found.text(), one -> new ArrayList<>()).add(found.entry());
      }
    }
  }

  private void lists(PartFiles part, Map<KeyedText, Edits> edits, List<KeyedText.Fresh> fresh) {
    Map<List<String>, List<ListItem>> byKey = new LinkedHashMap<>();
    part.wanted()
        .lists()
        .forEach(item -> byKey.computeIfAbsent(item.key(), key -> new ArrayList<>()).add(item));
    byKey.forEach(
        (key, items) -> {
          Optional<PartFiles.Found> there = part.find(place.key(key));
          String now = there.map(one -> one.entry().value()).orElse("");
          String wanted = list(items, now);
          if (wanted.equals(now)) {
            return;
          }
          KeyedText.Value value = KeyedText.Value.of(wanted);
          if (there.isPresent()) {
            KeyedText text = there.get().text();
            text.replace(
                edits.computeIfAbsent(text, one -> new Edits(one.source())),
                there.get().entry(),
                value);
          } else {
            fresh.add(new KeyedText.Fresh(place.fresh(key), value));
          }
        });
  }

  /** A list with the items that it must have; one that is there with another port gets this one. */
  private String list(List<ListItem> items, String now) {
    String list = now;
    for (ListItem item : items) {
      Optional<String> there = item.in(item.words(now));
      Map<String, String> old = there.flatMap(item::values).orElse(Map.of());
      String word =
          item.item()
              .fill(
                  name ->
                      Optional.of(
                          name.equals("port")
                              ? values.getOrDefault("port", "")
                              : old.getOrDefault(name, "")))
              .orElseThrow();
      if (there.isEmpty()) {
        list = list.isBlank() ? word : list.stripTrailing() + item.separator() + word;
      } else if (!there.get().equals(word)) {
        list = list.replace(there.get(), word);
      }
    }
    return list;
  }

  private List<FileChange> written(
      PartFiles part,
      Map<KeyedText, List<KeyedText.Entry>> away,
      List<KeyedText.Fresh> fresh,
      Map<KeyedText, Edits> edits,
      boolean secret) {
    List<FileChange> changes = new ArrayList<>();
    Optional<KeyedText> target = target(part);
    away.forEach(
        (text, entries) -> {
          if (target.filter(one -> one == text).isEmpty() || fresh.isEmpty()) {
            text.change(
                edits.computeIfAbsent(text, one -> new Edits(one.source())), entries, List.of());
          }
        });
    if (!fresh.isEmpty()) {
      if (target.isPresent()) {
        KeyedText text = target.get();
        text.change(
            edits.computeIfAbsent(text, one -> new Edits(one.source())),
            away.getOrDefault(text, List.of()),
            fresh);
      } else {
        changes.add(made(part, fresh, secret));
      }
    }
    edits.forEach(
        (text, edit) -> {
          if (!edit.isEmpty()) {
            inside.check(text.source().path());
            changes.add(change(part, text, edit, secret));
          }
        });
    if (secret) {
      told(part, changes);
    }
    return changes;
  }

  /** The file for new settings: the one of the section, one of their own, or the main file. */
  private Optional<KeyedText> target(PartFiles part) {
    if (place.section().isPresent() && part == reading.parts().get(0)) {
      for (PartFiles.Section section : part.sections()) {
        if (section.name().equals(place.section().get())) {
          return Optional.of(section.text());
        }
      }
    }
    return part.wanted().fresh().isPresent() ? part.text(freshPath(part)) : part.mainText();
  }

  private Path freshPath(PartFiles part) {
    return part.wanted()
        .fresh()
        .map(name -> machine.below(installation.home(), name).toAbsolutePath().normalize())
        .orElse(part.main());
  }

  private FileChange made(PartFiles part, List<KeyedText.Fresh> fresh, boolean secret) {
    Path path = freshPath(part);
    inside.check(path);
    if (machine.files().exists(path)) {
      throw refused(
          "The file "
              + VisibleText.of(path.toString())
              + " is there, and "
              + description.title()
              + " does not take it in.",
          "Look at the settings that include it.");
    }
    String empty = part.wanted().language().word().equals("json") ? "{}\n" : "";
    SourceText source = SourceText.of(path, empty.getBytes(StandardCharsets.UTF_8));
    Edits edit = new Edits(source);
    part.text(source).change(edit, List.of(), fresh);
    FileChange change = FileChange.newSettings(path, edit.octets());
    return secret ? change.forOwner(settingsOwner()) : change;
  }

  private Optional<Owner> settingsOwner() {
    return reading.account().flatMap(one -> machine.owner(new Owner(one, Optional.empty())));
  }

  private static FileChange change(PartFiles part, KeyedText text, Edits edit, boolean secret) {
    return new FileChange(
        text.source().path(),
        Optional.of(part.files().octets(text.source())),
        part.files().snapshot(text.source().path()),
        edit.octets(),
        true,
        secret ? "settings with a password" : "settings",
        Privacy.SYSTEM_DEFAULT,
        Optional.empty());
  }

  private void told(PartFiles part, List<FileChange> changes) {
    boolean open =
        part.wanted().lines().stream()
            .filter(this::isWanted)
            .anyMatch(
                line ->
                    line.written().names().stream()
                        .anyMatch(one -> one.endsWith("password") && !one.contains(" by ")));
    for (FileChange one : changes) {
      if (open && one.settings()) {
        findings.add(
            Finding.of(
                FindingKind.PASSWORD_IN_SETTINGS,
                VisibleText.of(one.path().toString()),
                description.title()
                    + " wants the password in its settings, for everybody who reads or copies them.",
                "Let nobody but the server's account read this file."));
      }
    }
  }
}
