// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.Installation;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** HAProxy as a client of the servers behind it: the server lines of one backend. */
public final class HaproxyBackend implements ClientKind {
  private static final Set<String> WITH_VALUE =
      Set.of(
          "addr",
          "agent-addr",
          "agent-inter",
          "agent-port",
          "agent-send",
          "alpn",
          "ca-file",
          "check-alpn",
          "check-proto",
          "check-sni",
          "ciphers",
          "ciphersuites",
          "client-sigalgs",
          "cookie",
          "crl-file",
          "crt",
          "curves",
          "downinter",
          "error-limit",
          "fall",
          "fastinter",
          "guid",
          "id",
          "init-addr",
          "inter",
          "log-proto",
          "max-reuse",
          "maxconn",
          "maxqueue",
          "minconn",
          "namespace",
          "npn",
          "observe",
          "on-error",
          "on-marked-down",
          "on-marked-up",
          "pool-low-conn",
          "pool-max-conn",
          "pool-purge-delay",
          "port",
          "proto",
          "proxy-v2-options",
          "redir",
          "resolve-net",
          "resolve-opts",
          "resolve-prefer",
          "resolvers",
          "rise",
          "shard",
          "sigalgs",
          "slowstart",
          "sni",
          "socks4",
          "source",
          "ssl-max-ver",
          "ssl-min-ver",
          "tcp-ut",
          "track",
          "usesrc",
          "verify",
          "verifyhost",
          "weight",
          "ws");

  /** Made by the registry of clients. */
  public HaproxyBackend() {}

  @Override
  public String name() {
    return "haproxy-backend";
  }

  @Override
  public String title() {
    return "HAProxy towards the servers of a backend";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    Haproxy haproxy = new Haproxy();
    Installation installation =
        wish.home()
            .map(home -> haproxy.at(machine, home))
            .or(() -> haproxy.find(machine).stream().findFirst())
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.NOT_FOUND,
                        "The settings of HAProxy were not found.",
                        "There is no haproxy.cfg in its usual places.",
                        "Name the file: " + Input.HOME.mention("PATH") + "."));
    HaproxyReading reading = new HaproxyReading(machine, installation);
    List<HaproxyText.Line> servers = servers(reading, wish.name());
    String section = servers.get(0).name();
    PlacedFiles placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner());
    List<UsedFile> used = new ArrayList<>();
    Map<String, Optional<String>> wanted = wanted(wish, section, placed, used, reading, servers);
    SettingEdits edits = new SettingEdits();
    for (HaproxyText.Line server : servers) {
      int first = server.word(0).equals("server") ? 3 : 4; // a template says how many as well
      new LineOptions(server, first, WITH_VALUE).change(edits.of(reading.source()), wanted);
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(edits.changes(reading.files()::octets, reading.files()::snapshot));
    String program = installation.program().map(Path::toString).orElse("haproxy");
    return new ClientProposal(
        installation.main(),
        changes,
        placed.newFolders(),
        used,
        List.of(
            new ClientProposal.Use(
                "let HAProxy check it, and reload it then",
                program + " -c -f " + HaproxyText.written(installation.main().toString()))),
        Optional.empty(),
        List.of());
  }

  private static Map<String, Optional<String>> wanted(
      ClientWish wish,
      String section,
      PlacedFiles placed,
      List<UsedFile> used,
      HaproxyReading reading,
      List<HaproxyText.Line> servers) {
    String base = FileNames.safe(section);
    Origin origin =
        new Origin(reading.source().path(), reading.source().line(servers.get(0).from()));
    Map<String, Optional<String>> wanted = new LinkedHashMap<>();
    wanted.put("ssl", Optional.of(""));
    wanted.put("verify", Optional.of("required"));
    Path trust =
        placed.add(
            base + "-servers.pem",
            PemFiles.certificates(new ClientTrust(wish.trust(), List.of())),
            "the authorities of the servers",
            false);
    used.add(UsedFile.of(FileRole.TRUST, trust, "ca-file", origin).readByRoot());
    wanted.put("ca-file", Optional.of(trust.toString()));
    wish.credential()
        .ifPresent(
            own -> {
              Path file =
                  placed.add(
                      base + "-client.pem",
                      PemFiles.keyWithChain(own),
                      "the private key and the certificate with its chain",
                      true);
              used.add(UsedFile.of(FileRole.KEYSTORE, file, "crt", origin).readByRoot());
              wanted.put("crt", Optional.of(file.toString()));
            });
    wish.host()
        .ifPresent(
            host -> {
              wanted.put("verifyhost", Optional.of(host.typed()));
              if (host.typed().matches(".*[A-Za-z].*") && host.typed().indexOf(':') < 0) {
                wanted.put("sni", Optional.of("str(" + host.typed() + ")"));
              }
            });
    return wanted;
  }

  /** The server lines that are meant: of the one backend that has some, or of the one named. */
  private static List<HaproxyText.Line> servers(HaproxyReading reading, Optional<String> name) {
    List<HaproxyText.Line> all =
        reading.lines().stream()
            .filter(line -> line.section().equals("backend") || line.section().equals("listen"))
            .filter(
                line ->
                    (line.word(0).equals("server") || line.word(0).equals("server-template"))
                        && line.words().size() > 2)
            .toList();
    List<String> sections = all.stream().map(HaproxyText.Line::name).distinct().toList();
    String listed = sections.isEmpty() ? "none" : VisibleText.of(String.join(", ", sections));
    if (name.isEmpty() && sections.size() != 1) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "Nothing was changed.",
          "The backends with server lines are: " + listed + ".",
          "Say which one is meant: " + Input.SITE.mention("NAME") + ".");
    }
    String section = name.orElseGet(() -> sections.get(0));
    List<HaproxyText.Line> meant =
        all.stream().filter(line -> line.name().equals(section)).toList();
    if (meant.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "Nothing was changed.",
          "HAProxy has no backend with server lines that is called "
              + VisibleText.of(section)
              + ".",
          "The backends with server lines are: " + listed + ".");
    }
    return meant;
  }
}
