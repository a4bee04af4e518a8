// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.PemText;
import io.symbolon.convert.FileNames;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Whom all programs of a Debian trust: a file for each root in the folder of local authorities,
 * which the system's own command takes in.
 */
public final class SystemTrust implements ClientKind {
  private static final String FOLDER = "/usr/local/share/ca-certificates";

  /** Made by the registry of clients. */
  public SystemTrust() {}

  @Override
  public String name() {
    return "system-trust";
  }

  @Override
  public String title() {
    return "All programs of this system (Debian's folder of local authorities)";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    if (wish.credential().isPresent()) {
      throw ClientFiles.refused(
          "The system's trust holds authorities alone.",
          "Leave " + Input.CREDENTIAL.mention() + " out.");
    }
    Path folder = wish.home().orElse(machine.path(FOLDER)).toAbsolutePath().normalize();
    if (!Files.isDirectory(folder)) {
      throw ClientFiles.refused(
          "There is no folder " + folder + ": this is no Debian, or its package is not installed.",
          "Name the folder of local authorities: " + Input.HOME.mention("FOLDER") + ".");
    }
    PlacedFiles placed = new PlacedFiles(machine, folder, Optional.empty());
    List<UsedFile> used = new ArrayList<>();
    List<Certificate> roots = wish.trust().stream().filter(Certificate::isSelfSigned).toList();
    if (roots.isEmpty()) {
      throw ClientFiles.refused(
          "None of the certificates is a root: the system's programs would trust nobody by them.",
          "Name the file of the root: " + Input.TRUST.mention("FILE") + ".");
    }
    for (Certificate root : roots) {
      String name = FileNames.safe(root.subject().shortText());
      // The system's command looks at names that end so, and takes one certificate from a file.
      Path path =
          placed.add(
              (name.isEmpty() ? "authority" : name) + ".crt",
              PemText.certificates(List.of(root)).getBytes(StandardCharsets.US_ASCII),
              "a root that all programs will trust",
              false);
      used.add(UsedFile.of(FileRole.TRUST, path, "local authorities", new Origin(path, 1)));
    }
    List<FileChange> changes =
        placed.changes().stream().map(change -> change.asSettings()).toList();
    return new ClientProposal(
        folder,
        changes,
        List.of(),
        used,
        List.of(
            new ClientProposal.Use(
                "it counts when the system takes it in, and is gone so again after undo",
                "update-ca-certificates")),
        Optional.empty(),
        List.of());
  }
}
