// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.SourceText;
import io.symbolon.probe.StartWith;
import io.symbolon.seal.Secret;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.files.StoreFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.ClientWish;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** The files of one client while they are gathered, and the settings that name them. */
final class ClientFiles {
  private final Machine machine;
  private final ClientWish wish;
  private final Path file;
  private final PlacedFiles placed;
  private final String base;
  private final List<UsedFile> used = new ArrayList<>();
  private final Map<List<String>, String> values = new LinkedHashMap<>();
  private final List<List<String>> absent = new ArrayList<>();
  private final List<Secret> hidden = new ArrayList<>();

  ClientFiles(Machine machine, ClientWish wish, Path file) {
    this.machine = machine;
    this.wish = wish;
    this.file = file.toAbsolutePath().normalize();
    Path folder = Optional.ofNullable(this.file.getParent()).orElse(this.file).resolve("tls");
    this.placed =
        new PlacedFiles(machine, wish.folder().orElse(folder).toAbsolutePath(), wish.owner());
    String name =
        FileNames.safe(
            wish.name().or(() -> wish.host().map(host -> host.typed())).orElse("client"));
    this.base = name.isEmpty() ? "client" : name;
  }

  /** A settings file by its usual name in a folder, or itself. */
  static Path file(Machine machine, ClientWish wish, String name, String usual) {
    Path home =
        wish.home().orElse(machine.path(System.getProperty("user.home", ".")).resolve(usual));
    return Files.isDirectory(home) ? home.resolve(name) : home;
  }

  Path file() {
    return file;
  }

  void set(List<String> key, String value) {
    values.put(key, value);
  }

  private String name(FileRole role, Path path, List<Secret> passwords) {
    used.add(UsedFile.of(role, path, base, new Origin(file, 1)).withPasswords(passwords));
    return Machine.withSlashes(path);
  }

  /** The authorities of the server, in PEM. */
  String trust() {
    Path path =
        placed.add(
            base + "-servers.pem",
            PemFiles.certificates(new ClientTrust(wish.trust(), List.of())),
            "the authorities of the server",
            false);
    return name(FileRole.TRUST, path, List.of());
  }

  /** The client's chain and its key, in PEM. */
  Optional<List<String>> pair() {
    return wish.credential()
        .map(
            own -> {
              Path chain =
                  placed.add(
                      base + ".pem", PemFiles.chain(own), "the certificate with its chain", false);
              Path key = placed.add(base + ".key", PemFiles.openKey(own), "the private key", true);
              return List.of(
                  name(FileRole.CERTIFICATE, chain, List.of()), name(FileRole.KEY, key, List.of()));
            });
  }

  /** The client's key and its chain in one file, in PEM. */
  Optional<String> together() {
    return wish.credential()
        .map(
            own -> {
              Path path =
                  placed.add(
                      base + ".pem",
                      PemFiles.keyWithChain(own),
                      "the private key with its chain",
                      true);
              return name(FileRole.KEYSTORE, path, List.of());
            });
  }

  /** Whether one of these settings has that value now, in any case of letters. */
  boolean says(Function<SourceText, KeyedText> language, List<List<String>> keys, String value) {
    return language.apply(source()).entries().stream()
        .anyMatch(one -> keys.contains(one.key()) && one.value().equalsIgnoreCase(value));
  }

  /** A setting that must not be there. */
  void absent(List<String> key) {
    absent.add(key);
  }

  /** The authorities of the server in a store: its path and its password. */
  List<String> trustStore() {
    return store(
        FileRole.TRUST,
        new StoreFiles(machine, placed)
            .truststore(base + "-servers", wish.trust(), "the authorities of the server"));
  }

  /** The client's credential in a store: its path and its password. */
  Optional<List<String>> keyStore() {
    return wish.credential()
        .map(
            own ->
                store(
                    FileRole.KEYSTORE, new StoreFiles(machine, placed).keystore(base, own, base)));
  }

  private List<String> store(FileRole role, StoreFiles.Placed store) {
    FileView view = machine.with(placed.changes()).files();
    Secret password = PasswordLines.of(view, store.password()).get(0);
    hidden.add(password);
    return List.of(name(role, store.store(), List.of(password)), new String(password.reveal()));
  }

  ClientProposal proposal(
      Function<SourceText, KeyedText> language,
      List<ClientProposal.Use> uses,
      Optional<StartWith> startWith,
      Finding... findings) {
    List<FileChange> changes = new ArrayList<>(placed.changes());
    if (!values.isEmpty()) {
      changes.add(settings(language));
    }
    return new ClientProposal(
        file, changes, PlacedFiles.newFolders(changes), used, uses, startWith, List.of(findings));
  }

  private SourceText source() {
    Optional<FileView.ReadFile> there = machine.files().read(file);
    return SourceText.of(file, there.map(FileView.ReadFile::octets).orElse(new byte[0]));
  }

  private FileChange settings(Function<SourceText, KeyedText> language) {
    Optional<FileView.ReadFile> there = machine.files().read(file);
    SourceText source = source();
    KeyedText text = language.apply(source);
    Edits edits = new Edits(source);
    Map<List<String>, String> fresh = new LinkedHashMap<>(values);
    List<KeyedText.Entry> gone = new ArrayList<>();
    for (KeyedText.Entry entry : text.entries()) {
      if (absent.contains(entry.key())) {
        gone.add(entry);
      }
      String value = fresh.remove(entry.key());
      if (value != null && !value.equals(entry.value())) {
        text.replace(edits, entry, KeyedText.Value.of(value));
      }
    }
    List<KeyedText.Fresh> added = new ArrayList<>();
    fresh.forEach((key, value) -> added.add(new KeyedText.Fresh(key, KeyedText.Value.of(value))));
    text.change(edits, gone, added);
    boolean secret = !hidden.isEmpty();
    FileChange change =
        new FileChange(
            file,
            there.map(FileView.ReadFile::octets),
            there.flatMap(FileView.ReadFile::snapshot),
            edits.octets(),
            true,
            "settings",
            secret ? Privacy.OWNER_ONLY : Privacy.SYSTEM_DEFAULT,
            secret ? wish.owner() : Optional.empty());
    return change.hiding(hidden);
  }

  static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  static String quoted(String text) {
    return text.matches("[\\w./:@+=-]+") ? text : "'" + text.replace("'", "'\\''") + "'";
  }
}
