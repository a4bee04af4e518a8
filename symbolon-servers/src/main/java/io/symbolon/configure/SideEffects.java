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
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What a change would do outside the settings that were compared: to other servers of the machine
 * that name a file which is replaced.
 */
final class SideEffects {
  private static final Logger LOG = LoggerFactory.getLogger(SideEffects.class);

  private final Machine machine;
  private final Settings before;
  private final Proposal proposal;

  SideEffects(Machine machine, Settings before, Proposal proposal) {
    this.machine = machine;
    this.before = before;
    this.proposal = proposal;
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

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (IOException e) {
      return path.toAbsolutePath().normalize();
    }
  }
}
