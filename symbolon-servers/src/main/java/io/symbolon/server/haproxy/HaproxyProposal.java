// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
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
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What would change in a bind line of HAProxy; a new one where the port that is wanted has none.
 */
final class HaproxyProposal {
  private final Installation installation;
  private final Wish wish;
  private final HaproxyReading reading;
  private final PlacedFiles placed;
  private final SettingEdits edits = new SettingEdits();
  private final Map<String, Optional<String>> wanted = new LinkedHashMap<>(); // nothing: goes

  HaproxyProposal(Machine machine, Installation installation, Wish wish) {
    this.installation = installation;
    this.wish = wish;
    this.reading = new HaproxyReading(machine, installation);
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner());
  }

  Proposal proposal() {
    refuse();
    List<Bind> binds = reading.binds();
    if (binds.isEmpty()) {
      throw refused(
          "HAProxy's settings have no bind line in a frontend or a listen section.",
          "Write one first, such as bind :443, and give the command again.");
    }
    Bind bind = choose(binds);
    boolean there =
        wish.port().isEmpty()
            || bind.endpoints().stream().anyMatch(end -> end.port() == wish.port().get());
    want(bind, there);
    if (there) {
      bind.options().change(edits.of(reading.source()), wanted);
    } else {
      add(bind);
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(edits.changes(reading.files()::octets, reading.files()::snapshot));
    return new Proposal(
        installation,
        there
            ? ProposedPlace.of(reading.place(bind))
            : ProposedPlace.made(bind.line().name(), installation.main()),
        changes,
        placed.newFolders(),
        List.of(),
        List.of());
  }

  private Bind choose(List<Bind> binds) {
    List<TlsPlace> places = binds.stream().map(reading::place).toList();
    List<String> sections = binds.stream().map(bind -> bind.line().name()).distinct().toList();
    boolean there =
        wish.port().isPresent()
            && binds.stream()
                .flatMap(bind -> bind.endpoints().stream())
                .anyMatch(end -> end.port() == wish.port().get());
    if (wish.port().isPresent() && !there && sections.size() == 1) {
      return binds.get(binds.size() - 1); // beside it, in the same section
    }
    return binds.get(places.indexOf(PlaceChoice.of("HAProxy", places, wish)));
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "Symbolon writes one certificate for a bind line of HAProxy, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "Symbolon does not write redirects and headers of HAProxy.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out, and write the rules yourself.");
    }
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void want(Bind bind, boolean there) {
    if (bind.places("crt").size() > 1 || bind.has("crt-list")) {
      throw refused(
          "The bind line names several certificates.", "Change them one by one in the settings.");
    }
    String name = FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
    Credential credential = wish.credentials().get(0);
    ByteArrayOutputStream bundle = new ByteArrayOutputStream();
    bundle.writeBytes(PemFiles.openKey(credential));
    bundle.writeBytes(PemFiles.chain(credential).getBytes(StandardCharsets.US_ASCII));
    Path path =
        placed.add(
            name + ".pem",
            bundle.toByteArray(),
            "the private key and the certificate with its chain",
            true);
    wanted.put("ssl", Optional.of(""));
    wanted.put("crt", Optional.of(path.toString()));
    wish.versions(there && bind.mode() != Mode.CLEAR)
        .ifPresent(
            versions -> wanted.put("ssl-min-ver", Optional.of(versions.get(0).platformName())));
    wish.ciphers().ifPresent(words -> wanted.put("ciphers", Optional.of(words)));
    if (wish.mode().isEmpty()) {
      return;
    }
    if (!wish.mode().get().asksClients() || wish.trust().isEmpty()) {
      for (String option : List.of("ca-file", "verify", "crl-file")) {
        wanted.put(option, Optional.empty());
      }
      return;
    }
    wanted.put("ca-file", Optional.of(placed.clients(name, wish.trust().get()).toString()));
    wanted.put("verify", Optional.of(wish.mode().get() == Mode.MUTUAL ? "required" : "optional"));
    wanted.put(
        "crl-file",
        wish.trust().get().lists().isEmpty()
            ? Optional.empty()
            : Optional.of(placed.lists(name, wish.trust().get()).toString()));
  }

  /** Another bind line behind this one, at the same address and the port that is wanted. */
  private void add(Bind bind) {
    String address = bind.line().word(1).replaceFirst(",.*", "");
    int colon = address.lastIndexOf(':');
    StringBuilder line =
        new StringBuilder("\n")
            .append(reading.source().indentation(bind.line().from()))
            .append("bind ")
            .append(address, 0, Math.max(colon, 0))
            .append(':')
            .append(wish.port().orElseThrow());
    wanted.forEach(
        (option, value) ->
            value.ifPresent(word -> line.append(' ').append(LineOptions.written(option, word))));
    String text = reading.source().text();
    int end = text.indexOf('\n', bind.line().to());
    int at = end < 0 ? text.length() : end > 0 && text.charAt(end - 1) == '\r' ? end - 1 : end;
    // The last line must end, or HAProxy refuses the file.
    edits.of(reading.source()).insert(at, line + (end < 0 ? "\n" : ""));
  }
}
