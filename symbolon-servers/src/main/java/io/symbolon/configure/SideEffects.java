// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What a change would do outside the settings that were compared: to other servers of the machine
 * that name a file which is replaced, and to services that inherit a setting.
 */
final class SideEffects {
  private static final Logger LOG = LoggerFactory.getLogger(SideEffects.class);

  /** A line of Postfix' master.cf that begins a service of smtpd. */
  private static final Pattern SERVICE =
      Pattern.compile("(\\S+)\\s+(?:inet|unix|pass)\\s+.*\\ssmtpd\\b.*");

  private final Server server;
  private final Machine machine;
  private final Settings before;
  private final Proposal proposal;
  private final TlsPlace place;

  SideEffects(Server server, Machine machine, Settings before, Proposal proposal, TlsPlace place) {
    this.server = server;
    this.machine = machine;
    this.before = before;
    this.proposal = proposal;
    this.place = place;
  }

  List<Finding> findings() {
    Set<Path> replaced = new HashSet<>();
    for (FileChange change : proposal.changes()) {
      if (!change.settings() && change.before().isPresent() && !change.isNothing()) {
        replaced.add(real(change.path()));
      }
    }
    List<Finding> findings = new ArrayList<>();
    if (!replaced.isEmpty()) {
      others(replaced, findings);
    }
    inherited(findings);
    return findings;
  }

  private static void shared(String who, TlsPlace one, Set<Path> replaced, List<Finding> findings) {
    for (UsedFile file : one.files()) {
      if (replaced.contains(real(file.path()))) {
        findings.add(
            Finding.of(
                FindingKind.CHANGES_MORE,
                VisibleText.of(file.path().toString()),
                VisibleText.of(who)
                    + " names this file as well ("
                    + one.origin()
                    + "): what it shows or whom it lets in would change with it.",
                "Give this place files of its own, in another folder: "
                    + Input.PLACE.mention("FOLDER")
                    + ". Or change both"
                    + " by hand."));
      }
    }
  }

  /** Other servers of the machine; one whose settings can't be read stops nothing. */
  private void others(Set<Path> replaced, List<Finding> findings) {
    for (Server other : Servers.all()) {
      try {
        for (Installation installation : other.find(machine)) {
          if (!real(installation.main()).equals(real(before.installation().main()))) {
            for (TlsPlace one : other.read(machine, installation).places()) {
              shared(other.title() + ", " + one.name(), one, replaced, findings);
            }
          }
        }
      } catch (SymbolonException e) {
        LOG.debug("the settings of {} were not read", other.title(), e);
      }
    }
  }

  /** Services of Postfix that take over from main.cf what they do not set themselves. */
  private void inherited(List<Finding> findings) {
    if (!server.name().equals("postfix")) {
      return;
    }
    boolean changes =
        proposal.changes().stream().anyMatch(change -> change.settings() && !change.isNothing());
    Path master = before.installation().home().resolve("master.cf");
    boolean asks = place.mode().asksClients();
    if (!changes || !asks || !Files.isRegularFile(master)) {
      return;
    }
    String text =
        machine
            .files()
            .read(master)
            .map(read -> new String(read.octets(), StandardCharsets.UTF_8))
            .orElse("");
    List<String> services = new ArrayList<>();
    // A line that begins with blanks goes on with the one before it.
    for (String line : text.replaceAll("\\n[ \\t]+", " ").lines().toList()) {
      if (!line.startsWith("#") && SERVICE.matcher(line).matches()) {
        services.add(line);
      }
    }
    // The one for mail between servers is what main.cf is about; or else the first one.
    services.stream()
        .filter(line -> line.startsWith("smtp ") || line.startsWith("smtp\t"))
        .findFirst()
        .or(() -> services.stream().findFirst())
        .ifPresent(services::remove);
    for (String line : services) {
      if (!line.contains("smtpd_tls_req_ccert")) {
        findings.add(inherits(master, line.split("\\s+", 2)[0]));
      }
    }
  }

  private static Finding inherits(Path master, String service) {
    return Finding.of(
        FindingKind.CHANGES_MORE,
        VisibleText.of(master.toString()),
        "The service "
            + VisibleText.of(service)
            + " takes these settings over from main.cf: its clients would be asked for certificates"
            + " as well.",
        "Set smtpd_tls_ask_ccert and smtpd_tls_req_ccert for that service in master.cf, as they are"
            + " to be there, and give the command again.");
  }

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (IOException e) {
      return path.toAbsolutePath().normalize();
    }
  }
}
