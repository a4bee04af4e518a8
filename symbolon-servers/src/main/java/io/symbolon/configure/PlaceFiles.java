// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.limit.Limits;
import io.symbolon.party.PartyFiles;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The files that a place names, read as they are or as they would be. */
final class PlaceFiles {
  private final FileView files;
  private final TlsPlace place;
  private final List<Finding> findings = new ArrayList<>();
  private final Survey server;
  private final Survey trust;
  private final Survey lists;

  /**
   * Reads them.
   *
   * @param roots roots that the other side is known to have
   */
  PlaceFiles(FileView files, Surveyor surveyor, TlsPlace place, List<Certificate> roots) {
    this.files = files;
    this.place = place;
    trust = survey(surveyor, Set.of(FileRole.TRUST));
    List<Certificate> known = new ArrayList<>(roots);
    known.addAll(PartyFiles.trust(trust, new ArrayList<>()));
    server =
        survey(
            surveyor.withKnownRoots(known),
            Set.of(FileRole.CERTIFICATE, FileRole.CHAIN, FileRole.KEY, FileRole.KEYSTORE));
    lists = survey(surveyor, Set.of(FileRole.LISTS));
  }

  /** What the server shows, with its key. */
  Survey server() {
    return server;
  }

  /** Whom it trusts. */
  Survey trust() {
    return trust;
  }

  /** Whether there is a file of whom it trusts, and it could be read. */
  boolean isTrustRead() {
    return !trust.files().isEmpty() && trust.failures().isEmpty();
  }

  List<RevocationList> lists() {
    return PartyFiles.lists(lists);
  }

  /** Files that are not there or can't be read. */
  List<Finding> findings() {
    return findings;
  }

  private Survey survey(Surveyor surveyor, Set<FileRole> roles) {
    List<UsedFile> used =
        place.files().stream().filter(file -> roles.contains(file.role())).toList();
    List<Secret> passwords = used.stream().flatMap(file -> file.passwords().stream()).toList();
    Surveyor own = passwords.isEmpty() ? surveyor : surveyor.withUnlock(passwords);
    List<FileSurvey> read = new ArrayList<>();
    Set<Path> done = new LinkedHashSet<>();
    for (UsedFile file : used) {
      if (done.add(file.path())) {
        octets(file).ifPresent(octets -> read.add(counting(file, own.read(file.path(), octets))));
      }
    }
    return own.together(read);
  }

  /** Of a store with an alias named, the server shows that entry alone. */
  private FileSurvey counting(UsedFile used, FileSurvey file) {
    if (used.alias().isEmpty() || !file.format().isStore() || file.locked()) {
      return file;
    }
    String alias = used.alias().get();
    List<Holding> kept =
        file.holdings().stream()
            .filter(one -> !(one instanceof Holding.PrivateKey) || isNamed(one, alias))
            .toList();
    if (kept.stream().noneMatch(Holding.PrivateKey.class::isInstance)) {
      findings.add(
          Finding.of(
              FindingKind.DOES_NOT_FIT,
              Level.PROBLEM,
              used.origin().toString(),
              "The settings name the entry "
                  + VisibleText.of(alias)
                  + ", and "
                  + VisibleText.of(used.path().toString())
                  + " holds no private key of that alias"
                  + aliases(file)
                  + ".",
              "Name an alias that the store has, or make the store anew: symbolon configure with "
                  + Input.CREDENTIAL.mention("FILE")
                  + "."));
    }
    return file.withHoldings(kept);
  }

  private static boolean isNamed(Holding holding, String alias) {
    return holding.alias().filter(alias::equalsIgnoreCase).isPresent();
  }

  private static String aliases(FileSurvey file) {
    List<String> there =
        file.holdings().stream()
            .filter(Holding.PrivateKey.class::isInstance)
            .flatMap(one -> one.alias().stream())
            .map(VisibleText::of)
            .limit(5)
            .toList();
    return there.isEmpty() ? "" : " (it has " + String.join(", ", there) + ")";
  }

  private Optional<byte[]> octets(UsedFile file) {
    try {
      Optional<FileView.ReadFile> read = files.read(file.path(), Limits.FILE_BYTES);
      if (read.isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.FILE_ABSENT,
                file.origin().toString(),
                file.setting()
                    + " names "
                    + VisibleText.of(file.path().toString())
                    + ", and there is no such file.",
                "Put the file there, or change the setting."));
      }
      return read.map(FileView.ReadFile::octets);
    } catch (SymbolonException e) {
      findings.add(Finding.of(e, Level.WARNING));
      return Optional.empty();
    }
  }
}
