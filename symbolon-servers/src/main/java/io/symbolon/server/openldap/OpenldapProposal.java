// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.openldap;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.Proposal.Step;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * What would change in an OpenLDAP: files, and one change of its entry cn=config. Certificate and
 * key go in together, since each without the other is refused; and what is refused leaves its TLS
 * broken until the next good change, so the old values are put in again then.
 */
final class OpenldapProposal {
  private static final int NO_SUCH_ATTRIBUTE = 16; // RFC 4511

  private final Machine machine;
  private final Installation installation;
  private final Wish wish;
  private final OpenldapReading reading;
  private final PlacedFiles placed;
  private final Map<String, Optional<String>> wanted = new LinkedHashMap<>();

  OpenldapProposal(Machine machine, Installation installation, Wish wish) {
    this.machine = machine;
    this.installation = installation;
    this.wish = wish;
    this.reading = new OpenldapReading(machine, installation);
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner()
                .or(
                    () ->
                        Openldap.account(machine, installation)
                            .map(one -> new Owner(one, Optional.empty()))));
  }

  Proposal proposal() {
    refuse();
    want();
    Map<String, Optional<String>> change = new LinkedHashMap<>();
    boolean nothing =
        wanted.entrySet().stream()
            .allMatch(one -> reading.entry().text(one.getKey()).equals(one.getValue()));
    if (!nothing) {
      change.putAll(wanted);
      // The server refuses to take away what is not there.
      change
          .entrySet()
          .removeIf(
              one -> one.getValue().isEmpty() && reading.entry().text(one.getKey()).isEmpty());
    }
    return new Proposal(
        installation,
        ProposedPlace.of(reading.place()),
        placed.changes(),
        placed.newFolders(),
        change.isEmpty() ? List.of() : steps(change),
        List.of());
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "OpenLDAP shows one certificate, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "OpenLDAP speaks no HTTP: it has no redirects and no headers.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out.");
    }
    List<Integer> ports =
        reading.place().endpoints().stream().map(endpoint -> endpoint.port()).toList();
    if (wish.port().isPresent() && !ports.contains(wish.port().get())) {
      throw refused(
          "OpenLDAP does not listen on port "
              + wish.port().get()
              + " for TLS: its start says where, and not its settings.",
          "Add ldaps:/// to SLAPD_SERVICES in /etc/default/slapd and restart it, or leave "
              + Input.PORT.mention()
              + " out.");
    }
    if (!reading.services().hasSocket()) {
      throw refused(
          "OpenLDAP's settings are changed over its local socket, and it is started without one.",
          "Add ldapi:/// to SLAPD_SERVICES in /etc/default/slapd, and restart it.");
    }
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void want() {
    Credential credential = wish.credentials().get(0);
    String name = FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
    wanted.put(
        "olcTLSCertificateFile",
        written(
            placed.add(
                name + ".pem",
                PemFiles.chain(credential),
                "the certificate with its chain",
                false)));
    wanted.put(
        "olcTLSCertificateKeyFile",
        written(placed.add(name + ".key", PemFiles.openKey(credential), "the private key", true)));
    Optional<List<ProtocolVersion>> versions = wish.versions(reading.place().isTls());
    versions.ifPresent(
        all -> wanted.put("olcTLSProtocolMin", Optional.of(Openldap.counted(all.get(0)))));
    if (wish.ciphers().isPresent()) {
      wanted.put("olcTLSCipherSuite", wish.ciphers());
    } else if (versions.isPresent() && Openldap.hasPriorityStrings(machine)) {
      wanted.put("olcTLSCipherSuite", Optional.of(priorities(versions.get())));
    }
    if (wish.mode().isEmpty()) {
      return;
    }
    Mode mode = wish.mode().get();
    wanted.put(
        "olcTLSVerifyClient",
        Optional.of(
            switch (mode) {
              case MUTUAL -> "demand";
              case OPTIONAL -> "try";
              case ONE_WAY, CLEAR, PASSED_ON, REJECTING -> "never";
            }));
    if (!mode.asksClients() || wish.trust().isEmpty()) {
      wanted.put("olcTLSCRLFile", Optional.empty());
      return;
    }
    wanted.put("olcTLSCACertificateFile", written(placed.clients(name, wish.trust().get())));
    wanted.put(
        "olcTLSCRLFile",
        wish.trust().get().lists().isEmpty()
            ? Optional.empty()
            : written(placed.lists(name, wish.trust().get())));
  }

  /**
   * This build heeds no least version: it is a part of the words for cipher suites. What else these
   * say stays.
   */
  private String priorities(List<ProtocolVersion> versions) {
    List<String> words = new ArrayList<>();
    for (String word : reading.entry().text("olcTLSCipherSuite").orElse("NORMAL").split(":", -1)) {
      if (!word.contains("VERS-")) {
        words.add(word);
      }
    }
    words.add("-VERS-ALL");
    versions.forEach(one -> words.add("+VERS-" + word(one)));
    return String.join(":", words);
  }

  private static String word(ProtocolVersion version) {
    return switch (version) {
      case SSL_3_0 -> "SSL3.0";
      case TLS_1_0 -> "TLS1.0";
      case TLS_1_1 -> "TLS1.1";
      case TLS_1_2 -> "TLS1.2";
      case TLS_1_3 -> "TLS1.3";
    };
  }

  private static Optional<String> written(java.nio.file.Path path) {
    return Optional.of(path.toString());
  }

  private List<Step> steps(Map<String, Optional<String>> change) {
    Map<String, Optional<String>> before = new LinkedHashMap<>();
    change.keySet().forEach(name -> before.put(name, reading.entry().text(name)));
    List<Step> steps = new ArrayList<>();
    String socket = reading.services().socket();
    reading
        .entry()
        .text("entryUUID")
        .ifPresent(
            id ->
                steps.add(
                    new Step(
                        "ask whether the server at this socket has these settings",
                        Openldap.asking(socket).succeedingBy(r -> r.output().contains(id)),
                        Optional.empty(),
                        Step.Order.BEFORE_FILES,
                        List.of())));
    FileChange effect =
        FileChange.newSettings(
            installation.main(),
            ConfigEntry.changed(reading.source().text(), change).getBytes(StandardCharsets.UTF_8));
    boolean first = reading.entry().text("olcTLSCertificateFile").isEmpty();
    steps.add(
        new Step(
            "change the settings in the directory, which take effect at once"
                + (first ? "; taken back, they are gone when slapd is restarted" : ""),
            modify(socket, change),
            Optional.of(first ? withoutTls(before) : back(socket, before)),
            Step.Order.READS_FILES,
            List.of(effect)));
    return steps;
  }

  /**
   * Puts in what was there, and takes away what was not; where the change was refused, there is
   * nothing to be taken away, and the server says so.
   */
  private static ServerCommand back(String socket, Map<String, Optional<String>> before) {
    Map<String, Optional<String>> there = new LinkedHashMap<>(before);
    there.values().removeIf(Optional::isEmpty);
    Map<String, Optional<String>> absent = new LinkedHashMap<>(before);
    absent.keySet().removeAll(there.keySet());
    List<String> lines = new ArrayList<>();
    for (Map<String, Optional<String>> one : List.of(there, absent)) {
      if (!one.isEmpty()) {
        if (!lines.isEmpty()) {
          lines.add("");
        }
        lines.addAll(ConfigEntry.modification(one));
      }
    }
    return Openldap.modifying(socket, "-c")
        .told(lines)
        .succeedingBy(
            result ->
                result.isGood()
                    || (result.end() == CommandResult.End.ENDED
                        && result.exitCode() == NO_SUCH_ATTRIBUTE));
  }

  /**
   * A running server never takes its first certificate back: it answers that it is unwilling to,
   * and has no TLS from then on. So its files are changed, by its own program and as its account;
   * it does without when it is restarted.
   */
  private ServerCommand withoutTls(Map<String, Optional<String>> before) {
    Path folder = Objects.requireNonNull(installation.main().toAbsolutePath().getParent());
    List<String> words = List.of("slapmodify", "-F", folder.toString(), "-n", "0");
    return Openldap.account(machine, installation)
        .map(account -> ServerCommand.as(account, words))
        .orElseGet(() -> ServerCommand.of(words))
        .reading(List.of(folder))
        .told(ConfigEntry.modification(before));
  }

  static ServerCommand modify(String socket, Map<String, Optional<String>> change) {
    return Openldap.modifying(socket).told(ConfigEntry.modification(change));
  }
}
