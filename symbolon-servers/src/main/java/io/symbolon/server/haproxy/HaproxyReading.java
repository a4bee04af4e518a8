// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
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
import io.symbolon.server.text.Placeholders;
import io.symbolon.server.text.SettingsFiles;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** The bind lines of a HAProxy as they are. */
final class HaproxyReading {
  /** What looks at the first message of a TLS handshake that is passed on. */
  private static final Pattern SEEN_HELLO = Pattern.compile("\\breq[._]ssl_(?:sni|hello_type|ver)");

  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final SourceText source;
  private final List<HaproxyText.Line> lines;
  private final Set<HaproxyText.Line> conditional = new HashSet<>(); // by what is not known here
  private final Placeholders variables =
      Placeholders.of(Placeholders.Syntax.ENVIRONMENT, this::variable);
  private final List<Finding> findings = new ArrayList<>();

  HaproxyReading(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "HAProxy");
    this.source = files.get(installation.main());
    this.lines = HaproxyText.read(source);
    int depth = 0;
    for (HaproxyText.Line line : lines) {
      depth += line.word(0).equals(".if") ? 1 : line.word(0).equals(".endif") ? -1 : 0;
      if (depth > 0) {
        conditional.add(line);
      }
    }
  }

  /** What the settings themselves put into the environment. */
  private Optional<String> variable(String name) {
    return lines.stream()
        .filter(line -> line.word(0).equals("setenv") || line.word(0).equals("presetenv"))
        .filter(line -> line.word(1).equals(name))
        .reduce((first, last) -> last)
        .map(line -> line.word(2));
  }

  SettingsFiles files() {
    return files;
  }

  SourceText source() {
    return source;
  }

  List<HaproxyText.Line> lines() {
    return lines;
  }

  List<Bind> binds() {
    return lines.stream().filter(Bind::is).map(Bind::new).toList();
  }

  Settings settings() {
    List<Bind> binds = binds();
    List<TlsPlace> places = binds.stream().map(this::place).toList();
    findings.addAll(
        ClearPlaces.findings(
            "HAProxy", places, place -> isRedirect(binds.get(places.indexOf(place)))));
    return new Settings(installation, places, files.paths(), findings);
  }

  /** Whether a section sends those who come without TLS to it. */
  private boolean isRedirect(Bind bind) {
    return lines.stream()
        .filter(line -> line.section().equals(bind.line().section()))
        .filter(line -> line.name().equals(bind.line().name()))
        .map(line -> line.words().stream().map(Word::value).toList())
        .anyMatch(
            words ->
                String.join(" ", words).matches("(http-request )?redirect scheme https( .*)?"));
  }

  TlsPlace place(Bind bind) {
    Origin origin = origin(bind);
    judge(bind, origin);
    boolean tls = bind.mode().isTls();
    List<NotUnderstood> unknown = new ArrayList<>();
    List<UsedFile> used = tls ? used(bind, origin, unknown) : List.of();
    List<Endpoint> endpoints = endpoints(bind, origin, unknown);
    if (conditional.contains(bind.line())) {
      unknown.add(
          new NotUnderstood(
              Aspect.MODE,
              origin,
              "This bind line stands between .if and .endif: whether it counts is not known.",
              "Change it by hand, or take the condition away."));
    }
    String versions = versions(bind);
    return TlsPlace.at(
            PlaceId.at(installation.main(), bind.line().from()),
            origin,
            bind.line().name(),
            "bind line")
        .endpoints(endpoints)
        .mode(tls || !passesOn(bind) ? bind.mode() : Mode.PASSED_ON)
        .files(used)
        .protocols(
            versions,
            BindVersions.of(defaults("ssl-default-bind-options").orElse("") + " " + versions))
        .ciphers(bind.value("ciphers").or(() -> defaults("ssl-default-bind-ciphers")))
        .account(machine.account("root")) // it reads its files before it gives up its rights
        .notUnderstood(unknown)
        .build();
  }

  /** Whether a section in tcp mode chooses by the name that a client asks for, or by its hello. */
  private boolean passesOn(Bind bind) {
    boolean tcp =
        own(bind, "mode")
            .or(() -> defaultsBefore(bind, "mode"))
            .filter(line -> line.word(1).equals("tcp"))
            .isPresent();
    return tcp
        && lines.stream()
            .filter(line -> isSameSection(line, bind.line()))
            .flatMap(line -> line.words().stream())
            .anyMatch(word -> SEEN_HELLO.matcher(word.value()).find());
  }

  private Optional<HaproxyText.Line> own(Bind bind, String name) {
    return lines.stream()
        .filter(line -> isSameSection(line, bind.line()) && line.word(0).equals(name))
        .reduce((first, last) -> last);
  }

  private static boolean isSameSection(HaproxyText.Line one, HaproxyText.Line other) {
    return one.section().equals(other.section()) && one.name().equals(other.name());
  }

  /** The versions as one text: the line's own words first, else those of the global section. */
  private String versions(Bind bind) {
    List<String> words = new ArrayList<>();
    bind.value("ssl-min-ver").ifPresent(word -> words.add("ssl-min-ver " + word));
    bind.value("ssl-max-ver").ifPresent(word -> words.add("ssl-max-ver " + word));
    for (String flag : BindVersions.FLAGS) {
      if (bind.has(flag)) {
        words.add(flag);
      }
    }
    if (words.isEmpty()) {
      return defaults("ssl-default-bind-options").orElse("");
    }
    return words.size() == 1 && words.get(0).startsWith("ssl-min-ver ")
        ? words.get(0).substring("ssl-min-ver ".length()) + " and newer"
        : String.join(" ", words);
  }

  private List<Endpoint> endpoints(Bind bind, Origin origin, List<NotUnderstood> unknown) {
    Optional<String> address = variables.resolved(bind.line().word(1));
    if (address.isEmpty()) {
      unknown.add(
          variable(Aspect.ADDRESSES, origin, "The address of this bind line", bind.line().word(1)));
    }
    return address.map(bind::endpoints).orElse(List.of());
  }

  private static NotUnderstood variable(Aspect aspect, Origin origin, String what, String text) {
    return new NotUnderstood(
        aspect,
        origin,
        what + " has a variable in it that the settings do not set: " + VisibleText.of(text) + ".",
        "Write its value, or set it in the global section: setenv NAME VALUE.");
  }

  Origin origin(Bind bind) {
    return new Origin(installation.main(), source.line(bind.line().from()));
  }

  private Optional<String> defaults(String name) {
    return global(name)
        .map(
            line ->
                String.join(" ", line.words().stream().skip(1).map(word -> word.value()).toList()));
  }

  private Optional<HaproxyText.Line> global(String name) {
    return lines.stream()
        .filter(line -> line.section().equals("global") && line.word(0).equals(name))
        .reduce((first, last) -> last);
  }

  /** The defaults above a section count for it, and not those below. */
  private Optional<HaproxyText.Line> defaultsBefore(Bind bind, String name) {
    return lines.stream()
        .filter(line -> line.from() < bind.line().from())
        .filter(line -> line.section().equals("defaults") && line.word(0).equals(name))
        .reduce((first, last) -> last);
  }

  private void judge(Bind bind, Origin origin) {
    if (!bind.has("ssl") && bind.has("crt")) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.WARNING,
              origin.toString(),
              "The bind line names a certificate and lacks the word ssl: it speaks clear text.",
              "Put ssl before crt, or take crt away."));
    }
    boolean verifies = bind.value("verify").filter(one -> !one.equals("none")).isPresent();
    if (bind.has("ca-file") && !verifies) {
      findings.add(
          Finding.of(
              FindingKind.TRUST_WITHOUT_VERIFY,
              origin.toString(),
              "The bind line has a ca-file and no verify: no client is asked for a certificate.",
              "Add verify required or verify optional, or take ca-file away."));
    }
  }

  private List<UsedFile> used(Bind bind, Origin origin, List<NotUnderstood> unknown) {
    List<UsedFile> used = new ArrayList<>();
    for (int place : bind.places("crt-list")) {
      listed(bind.line().word(place + 1), origin, used, unknown);
    }
    for (int place : bind.places("crt")) {
      Optional<String> value = variables.resolved(bind.line().word(place + 1));
      if (value.isEmpty()) {
        unknown.add(variable(Aspect.CERTIFICATE, origin, "crt", bind.line().word(place + 1)));
        continue;
      }
      Path path = based(value.get(), "crt-base");
      List<Path> all = Files.isDirectory(path) ? machine.files().list(path) : List.of(path);
      for (Path one : all) {
        keystore(one, "crt", origin, used);
      }
    }
    named(bind, "ca-file", FileRole.TRUST, origin, used, unknown);
    named(bind, "crl-file", FileRole.LISTS, origin, used, unknown);
    return used;
  }

  /** A file with a certificate and its key, or the key in a file of its own beside it. */
  private void keystore(Path file, String setting, Origin origin, List<UsedFile> used) {
    used.add(UsedFile.of(FileRole.KEYSTORE, file, setting, origin).readByRoot());
    Path beside = file.resolveSibling(file.getFileName() + ".key");
    if (machine.files().exists(beside)) {
      used.add(UsedFile.of(FileRole.KEY, beside, setting, origin).readByRoot());
    }
  }

  /** The files that a list of certificates names, the first one first. */
  private void listed(
      String written, Origin origin, List<UsedFile> used, List<NotUnderstood> unknown) {
    Optional<SourceText> list =
        variables
            .resolved(written)
            .flatMap(value -> files.find(machine.below(installation.home(), value)));
    if (list.isEmpty()) {
      unknown.add(
          new NotUnderstood(
              Aspect.CERTIFICATE,
              origin,
              "The list of certificates (crt-list) can't be read: " + VisibleText.of(written) + ".",
              "Put the file there, or correct the bind line."));
      return;
    }
    for (CertificateList.Entry entry : CertificateList.of(list.get().text())) {
      Origin line = new Origin(list.get().path(), entry.number());
      keystore(based(entry.file(), "crt-base"), "crt-list", line, used);
      if (!entry.isHarmless()) {
        unknown.add(
            new NotUnderstood(
                Aspect.MODE,
                line,
                "This line of the list changes settings for one certificate: "
                    + VisibleText.of(entry.settings())
                    + ".",
                "Change the list by hand."));
      }
    }
  }

  private void named(
      Bind bind,
      String option,
      FileRole role,
      Origin origin,
      List<UsedFile> used,
      List<NotUnderstood> unknown) {
    Optional<String> written = bind.value(option);
    Optional<String> value = written.flatMap(variables::resolved);
    if (written.isPresent() && value.isEmpty()) {
      unknown.add(variable(Aspect.TRUST, origin, option, written.get()));
    }
    value.ifPresent(
        path -> used.add(UsedFile.of(role, based(path, "ca-base"), option, origin).readByRoot()));
  }

  /** A name that is not whole is looked for in a folder that the global section names. */
  private Path based(String value, String base) {
    Path folder =
        global(base)
            .map(line -> machine.below(installation.home(), line.word(1)))
            .orElse(installation.home());
    return machine.below(folder, value).toAbsolutePath().normalize();
  }
}
