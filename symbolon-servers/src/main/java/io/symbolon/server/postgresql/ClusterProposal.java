// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.LineText;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.Wish;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What would change in the settings of a cluster: a file of its own where the main file takes a
 * folder in, else lines of the main file; and the lines of pg_hba.conf where clients must show a
 * certificate.
 */
final class ClusterProposal {
  private final Installation installation;
  private final Cluster cluster;
  private final Wish wish;
  private final TlsPlace place;
  private final List<Directive> lines;
  private final PlacedFiles placed;
  private final SettingEdits edits = new SettingEdits();
  private final Map<String, Optional<String>> wanted = new LinkedHashMap<>();

  ClusterProposal(Machine machine, Installation installation, Cluster cluster, Wish wish) {
    this.installation = installation;
    this.cluster = cluster;
    this.wish = wish;
    ClusterReading reading = new ClusterReading(installation, cluster);
    this.place = reading.place();
    this.lines = reading.lines();
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            // Only a key of its own account, or one of root that its group may read, is taken.
            wish.owner().or(() -> machine.owner(new Owner(cluster.account(), Optional.empty()))));
  }

  Proposal proposal() {
    refuse();
    credential();
    clients();
    versions();
    List<FileChange> changes = new ArrayList<>(placed.changes());
    settings(changes);
    hba();
    new RoleLines(cluster, lines, edits, wish).propose(changes);
    changes.addAll(edits.changes(cluster.files()::octets, cluster.files()::snapshot));
    return new Proposal(
        installation, ProposedPlace.of(place), changes, placed.newFolders(), List.of(), List.of());
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "PostgreSQL shows one certificate, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "PostgreSQL speaks no HTTP: it can't redirect or send a header.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out.");
    }
    boolean there =
        wish.port().isEmpty()
            || place.endpoints().stream().anyMatch(one -> one.port() == wish.port().get());
    if (!there) {
      throw refused(
          "PostgreSQL speaks TLS and clear text on one port, and its port is another one.",
          "Leave " + Input.PORT.mention() + " out.");
    }
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void credential() {
    Credential credential = wish.credentials().get(0);
    Path chain =
        placed.add(
            fileName() + ".pem",
            PemFiles.chain(credential),
            "the certificate with its chain",
            false);
    Path key =
        placed.add(fileName() + ".key", PemFiles.openKey(credential), "the private key", true);
    want("ssl", "on");
    want("ssl_cert_file", quoted(chain));
    want("ssl_key_file", quoted(key));
  }

  private static String quoted(Path path) {
    return LineText.quoted(Machine.withSlashes(path));
  }

  private String fileName() {
    return FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
  }

  private void want(String setting, String text) {
    wanted.put(setting, Optional.of(text));
  }

  private void clients() {
    if (wish.mode().isEmpty()) {
      return;
    }
    if (wish.mode().get() == Mode.ONE_WAY || wish.trust().isEmpty()) {
      drop("ssl_ca_file");
      drop("ssl_crl_file");
      return;
    }
    Path trust = placed.clients(fileName(), wish.trust().get());
    want("ssl_ca_file", quoted(trust));
    if (wish.trust().get().lists().isEmpty()) {
      drop("ssl_crl_file");
    } else {
      Path lists = placed.lists(fileName(), wish.trust().get());
      want("ssl_crl_file", quoted(lists));
    }
  }

  /** A setting that would count otherwise is set to nothing, which is what it is without. */
  private void drop(String setting) {
    if (!cluster.value(setting, "").isEmpty()) {
      want(setting, "''");
    }
  }

  private void versions() {
    wish.versions(place.isTls()).ifPresent(this::versions);
    wish.ciphers().ifPresent(words -> want("ssl_ciphers", LineText.quoted(words)));
  }

  private void versions(List<ProtocolVersion> wanted) {
    ProtocolVersion least = wanted.get(0);
    ProtocolVersion most = wanted.get(wanted.size() - 1);
    want("ssl_min_protocol_version", LineText.quoted(least.platformName()));
    if (most != ProtocolVersion.TLS_1_3) {
      want("ssl_max_protocol_version", LineText.quoted(most.platformName()));
    } else if (!cluster.value("ssl_max_protocol_version", "").isEmpty()) {
      want("ssl_max_protocol_version", "''");
    }
  }

  /** Each setting where it counts: replaced where it stands, else in the file for new ones. */
  private void settings(List<FileChange> changes) {
    List<String> fresh = new ArrayList<>();
    Optional<Path> own = cluster.ownFile();
    for (Map.Entry<String, Optional<String>> one : wanted.entrySet()) {
      String text = one.getValue().orElse("''");
      Optional<Directive> there = cluster.setting(one.getKey());
      String line = one.getKey() + " = " + text;
      if (there.isPresent() && isSame(there.get(), text)) {
        continue;
      }
      boolean inMain = there.filter(d -> d.source().path().equals(installation.main())).isPresent();
      if (there.isPresent() && !(inMain && own.isPresent())) {
        Word value = there.get().words().get(0);
        edits.of(there.get().source()).replace(value.from(), value.to(), text);
      } else {
        fresh.add(line);
      }
    }
    if (!fresh.isEmpty()) {
      append(own, fresh, changes);
    }
  }

  private static boolean isSame(Directive there, String text) {
    String value =
        text.startsWith("'") ? LineText.read(source("x = " + text)).get(0).value(0) : text;
    return there.value(0).equals(value);
  }

  private static SourceText source(String text) {
    return SourceText.of(Path.of("new"), text.getBytes(StandardCharsets.UTF_8));
  }

  private void append(Optional<Path> own, List<String> fresh, List<FileChange> changes) {
    String text = String.join("\n", fresh) + "\n";
    if (own.isEmpty() || cluster.files().find(own.get()).isPresent()) {
      SourceText source = own.isEmpty() ? cluster.main() : cluster.files().get(own.get());
      Edits edit = edits.of(source);
      boolean ended = source.text().isEmpty() || source.text().endsWith("\n");
      edit.insert(source.text().length(), (ended ? "" : "\n") + text);
      return;
    }
    changes.add(FileChange.newSettings(own.get(), text.getBytes(StandardCharsets.UTF_8)));
  }

  /** Where every client must show a certificate, every line for the network says so. */
  private void hba() {
    if (wish.mode().isEmpty()) {
      return;
    }
    boolean mutual = wish.mode().get() == Mode.MUTUAL;
    for (Directive line : lines) {
      if (RoleLines.isOurs(line)) {
        continue;
      }
      boolean certificate = HbaText.wantsCertificate(line);
      if (mutual && !certificate && !HbaText.isReject(line)) {
        Edits edit = edits.of(line.source());
        if (!line.is("hostssl")) {
          edit.replace(line.from(), line.from() + line.name().length(), "hostssl");
        }
        Optional<Word> word = HbaText.certificateWord(line);
        if (word.isPresent()) {
          edit.replace(word.get().from(), word.get().to(), "clientcert=verify-ca");
        } else if (!line.values().contains("cert")) {
          edit.insert(line.to(), " clientcert=verify-ca");
        }
      } else if (!mutual && HbaText.certificateWord(line).isPresent()) {
        Word word = HbaText.certificateWord(line).get();
        String text = line.source().text();
        int from = word.from();
        while (from > 0 && (text.charAt(from - 1) == ' ' || text.charAt(from - 1) == '\t')) {
          from--;
        }
        edits.of(line.source()).replace(from, word.to(), "");
      }
    }
  }
}
