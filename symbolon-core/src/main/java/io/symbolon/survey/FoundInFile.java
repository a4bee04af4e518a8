// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Format;
import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.DerivationBudget;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Collects what is found while one file is read. */
final class FoundInFile {

  private final Path path;
  private final List<Holding> holdings = new ArrayList<>();
  private final List<Finding> findings = new ArrayList<>();
  private final Set<ProtectionWorth> protections = new LinkedHashSet<>();
  private final DerivationBudget budget;
  private Optional<SymbolonException> failure = Optional.empty();
  private final Set<Secret> openers = new LinkedHashSet<>();
  private boolean locked;
  private int moreFindings;

  FoundInFile(Path path, WorkBudget command) {
    this.path = path;
    this.budget = new DerivationBudget(command);
  }

  Place place(String position) {
    return new Place(path, position);
  }

  String name() {
    return VisibleText.of(path.toString());
  }

  void add(Holding holding) {
    if (holdings.size() >= Limits.HOLDINGS_PER_FILE) {
      throw new SymbolonException(
          Reason.LIMIT_PASSED,
          "The file " + name() + " was not read to its end.",
          "It holds more than " + Limits.HOLDINGS_PER_FILE + " things.",
          "Split it into several files.");
    }
    holdings.add(holding);
  }

  void add(Finding finding) {
    if (findings.size() < Limits.FINDINGS_PER_FILE) {
      findings.add(finding);
    } else {
      moreFindings++;
    }
  }

  void openedWith(Secret secret) {
    openers.add(secret);
  }

  void protectedBy(ProtectionWorth sealing) {
    protections.add(sealing);
  }

  /** How many derivation rounds the file may still ask for. */
  DerivationBudget budget() {
    return budget;
  }

  boolean isEmpty() {
    return holdings.isEmpty();
  }

  /** The file, or a part of it, failed: said as a finding and kept as the failure of the file. */
  void failed(FindingKind kind, SymbolonException why) {
    add(Finding.of(kind, name(), why.inFull(), why.remedy()));
    if (failure.isEmpty()) {
      failure = Optional.of(why);
    }
  }

  void failed(SymbolonException e, String what) {
    SymbolonException told =
        new SymbolonException(
            e.reason(),
            what + " in " + name() + " can't be read.",
            e.seen(Naming.MARKS),
            e.remedy(),
            e);
    failed(kind(e.reason()), told);
  }

  private static FindingKind kind(Reason reason) {
    return switch (reason) {
      case LIMIT_PASSED -> FindingKind.LIMIT_PASSED;
      case UNSUPPORTED -> FindingKind.UNSUPPORTED;
      case LOCKED -> FindingKind.LOCKED;
      default -> FindingKind.DAMAGED;
    };
  }

  /** A part stayed closed. */
  void locked(List<Secret> tried, String what, boolean mayBeDamaged) {
    locked = true;
    if (failure.filter(f -> f.reason() == Reason.LOCKED).isPresent()) {
      return;
    }
    String sources = VisibleText.of(String.join(", ", tried.stream().map(Secret::source).toList()));
    boolean none = tried.isEmpty();
    String seen;
    if (none) {
      seen = "It is protected by a password, and none was given.";
    } else if (!openers.isEmpty()) {
      seen =
          "The file opens, but a key in it has a password of its own, which was not given (tried: "
              + sources
              + ").";
    } else {
      seen =
          "No password given opens it (tried: "
              + sources
              + ")"
              + (mayBeDamaged ? "; or the file is damaged, which looks the same." : ".");
    }
    failed(
        FindingKind.LOCKED,
        new SymbolonException(
            Reason.LOCKED,
            what + " in " + name() + " is locked.",
            seen,
            Remedy.of(
                none ? "Give the password." : "Ask its sender for the right password, and give it.",
                Action.again(Input.PASSWORD))));
  }

  FileSurvey done(Format format) {
    if (moreFindings > 0) {
      findings.add(
          Finding.of(
              FindingKind.MORE_FINDINGS,
              name(),
              "There is more to say of this file: " + moreFindings + " findings are not listed.",
              ""));
    }
    ProtectionFindings.of(name(), holdings, protections).forEach(findings::add);
    return new FileSurvey(
        path,
        format,
        holdings,
        findings,
        failure,
        locked,
        List.copyOf(openers),
        List.copyOf(protections));
  }
}
