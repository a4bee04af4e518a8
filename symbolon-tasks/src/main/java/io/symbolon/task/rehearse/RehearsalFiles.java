// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.rehearse;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The sides of a handshake, from the files that were named. */
public final class RehearsalFiles {
  private static final Set<FindingKind> UNSOUND =
      Set.of(FindingKind.DAMAGED, FindingKind.MANGLED_TEXT, FindingKind.BLOCKS_GLUED);

  private final TaskRun run;
  private final List<PasswordSource> unlock;
  private final List<Finding> findings;
  private final Map<List<Path>, Survey> surveys = new HashMap<>(); // unlocking takes its time

  /**
   * For files that are read as they are named.
   *
   * @param findings where is noted what is to be said of the files
   */
  public RehearsalFiles(TaskRun run, List<PasswordSource> unlock, List<Finding> findings) {
    this.run = run;
    this.unlock = unlock;
    this.findings = findings;
  }

  /** What is to be said of the files. */
  public List<Finding> findings() {
    return List.copyOf(findings);
  }

  private Survey survey(List<Path> files) {
    return surveys.computeIfAbsent(files, this::read);
  }

  private Survey read(List<Path> files) {
    Survey survey = run.survey(files, run.unlock(unlock));
    if (!survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
    // What Symbolon reads all the same, or leaves out, another program may refuse.
    survey.files().stream()
        .flatMap(file -> file.findings().stream())
        .filter(finding -> UNSOUND.contains(finding.kind()) && !findings.contains(finding))
        .forEach(findings::add);
    return survey;
  }

  /** Every private key with the certificates that its side would show. */
  public List<Party> credentials(List<Path> files) {
    return files.isEmpty() ? List.of() : PartyFiles.credentials(survey(files));
  }

  /** Whom files make a side trust, as Java reads them. */
  public Optional<List<Certificate>> trust(List<Path> files) {
    return files.isEmpty()
        ? Optional.empty()
        : Optional.of(PartyFiles.trust(survey(files), findings));
  }

  /** What is so with the files of the trust, and matters to servers. */
  public Set<Party.Trait> trustTraits(List<Path> files) {
    return files.isEmpty() ? Set.of() : PartyFiles.trustTraits(survey(files));
  }

  /** The revocation lists that lie with whom a side trusts. */
  public List<RevocationList> lists(List<Path> files) {
    return files.isEmpty() ? List.of() : PartyFiles.lists(survey(files));
  }
}
