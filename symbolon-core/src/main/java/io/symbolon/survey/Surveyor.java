// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.SystemRoots;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.limit.WorkBudget;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Reads files and folders and finds what belongs together. The settings are immutable: every {@code
 * with} method gives a new surveyor. Thread-safe.
 */
public final class Surveyor {
  private final List<Secret> unlock;
  private final List<HostName> hosts;
  private final Clock clock;
  private final Duration expiryWarning;
  private final SystemRoots systemRoots;
  private final Progress progress;
  private final Optional<Attachments> mails;
  private final Optional<WorkBudget> budget;

  private Surveyor(
      List<Secret> unlock,
      List<HostName> hosts,
      Clock clock,
      Duration expiryWarning,
      SystemRoots systemRoots,
      Progress progress,
      Optional<Attachments> mails,
      Optional<WorkBudget> budget) {
    this.unlock = List.copyOf(unlock);
    this.hosts = List.copyOf(hosts);
    this.clock = clock;
    this.expiryWarning = expiryWarning;
    this.systemRoots = systemRoots;
    this.progress = progress;
    this.mails = mails;
    this.budget = budget;
  }

  /**
   * {@return a surveyor without passwords and hosts, by the system's clock and Java's own roots}
   */
  public static Surveyor create() {
    return new Surveyor(
        List.of(),
        List.of(),
        Clock.systemUTC(),
        CertificateJudge.SOON,
        SystemRoots.ofPlatform(),
        (done, total) -> {},
        Optional.empty(),
        Optional.empty());
  }

  /**
   * With passwords to try on whatever is protected.
   *
   * @param unlock the passwords to try
   * @return a changed copy
   */
  public Surveyor withUnlock(List<Secret> unlock) {
    return new Surveyor(unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, budget);
  }

  /**
   * With one more password to try.
   *
   * @param more the password; tried behind the others
   * @return a changed copy
   */
  public Surveyor withMoreUnlock(Secret more) {
    List<Secret> all = new ArrayList<>(unlock);
    all.add(more);
    return withUnlock(all);
  }

  /**
   * With hosts that a certificate among the files should cover.
   *
   * @return a changed copy
   */
  public Surveyor withHosts(List<HostName> hosts) {
    return new Surveyor(unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, budget);
  }

  /**
   * With a clock that says what is expired.
   *
   * @param clock the clock that tells what is expired
   * @return a changed copy
   */
  public Surveyor withClock(Clock clock) {
    return new Surveyor(unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, budget);
  }

  /**
   * With another threshold for what expires soon.
   *
   * @param before how long before its end a certificate is said to expire soon; 30 days otherwise
   * @return a changed copy
   * @throws IllegalArgumentException if it is negative
   */
  public Surveyor withExpiryWarning(Duration before) {
    if (before.isNegative()) {
      throw new IllegalArgumentException("a negative duration: " + before);
    }
    return new Surveyor(unlock, hosts, clock, before, systemRoots, progress, mails, budget);
  }

  /**
   * With other roots to look for the end of a chain in.
   *
   * @param systemRoots the roots that the platform trusts
   * @return a changed copy
   */
  public Surveyor withSystemRoots(SystemRoots systemRoots) {
    return new Surveyor(unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, budget);
  }

  /**
   * With roots that the other side is known to have, before those of the running Java.
   *
   * @return a changed copy
   */
  public Surveyor withKnownRoots(Collection<Certificate> roots) {
    return withSystemRoots(systemRoots.behind(roots));
  }

  /**
   * With somebody who is told how far it is.
   *
   * @param progress is told how far the work is
   * @return a changed copy
   */
  public Surveyor withProgress(Progress progress) {
    return new Surveyor(unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, budget);
  }

  /**
   * With somebody who takes saved mails apart, so that their attachments are looked into.
   *
   * @param mails takes a mail apart
   * @return a changed copy
   */
  public Surveyor withMails(Attachments mails) {
    return new Surveyor(
        unlock, hosts, clock, expiryWarning, systemRoots, progress, Optional.of(mails), budget);
  }

  /**
   * With a budget of costly work that is shared with others. Otherwise each survey has one of its
   * own.
   *
   * @param shared how much work may be done
   * @return a changed copy
   */
  public Surveyor withBudget(WorkBudget shared) {
    return new Surveyor(
        unlock, hosts, clock, expiryWarning, systemRoots, progress, mails, Optional.of(shared));
  }

  /**
   * Reads files and everything in folders. What can't be read is in the result; this does not fail.
   *
   * @param paths files and folders; one that is named twice counts once
   * @return the survey
   */
  public Survey survey(Collection<Path> paths) {
    Map<Path, FileReader.ContentSource> files = new LinkedHashMap<>();
    List<Finding> findings = new ArrayList<>();
    List<SymbolonException> failures = new ArrayList<>();
    for (Path path : paths) {
      if (Files.isDirectory(path)) {
        FolderWalk.FoundFiles walk = FolderWalk.of(path);
        for (Path file : walk.files()) {
          files.putIfAbsent(
              file,
              walk.links().contains(file)
                  ? FileReader.ContentSource.LINKED
                  : FileReader.ContentSource.FOUND);
        }
        walk.special().forEach(file -> findings.add(passedOver(file)));
        walk.foreign().forEach(folder -> findings.add(notOnRecord(folder)));
        failures.addAll(walk.failures());
        if (walk.files().isEmpty() && walk.special().isEmpty() && walk.failures().isEmpty()) {
          findings.add(
              Finding.of(
                  FindingKind.EMPTY_FOLDER,
                  io.symbolon.text.VisibleText.of(path.toString()),
                  "The folder holds no file.",
                  ""));
        }
      } else {
        files.put(path, FileReader.ContentSource.NAMED);
      }
    }
    WorkBudget work = budget.orElseGet(WorkBudget::full);
    FileReader reader = new FileReader(unlock, mails, work);
    List<FileSurvey> surveys = new ArrayList<>(files.size());
    int done = 0;
    for (Map.Entry<Path, FileReader.ContentSource> file : files.entrySet()) {
      surveys.addAll(reader.readAll(file.getKey(), file.getValue()));
      progress.files(++done, files.size());
    }
    return Survey.of(
        surveys,
        failures,
        findings,
        hosts,
        new CertificateJudge(clock.instant(), expiryWarning),
        systemRoots,
        work);
  }

  private static Finding passedOver(Path file) {
    return Finding.of(
        FindingKind.NOT_A_FILE,
        Level.NOTE,
        io.symbolon.text.VisibleText.of(file.toString()),
        "It was passed over: it is a device, a pipe or a socket.",
        "");
  }

  private static Finding notOnRecord(Path folder) {
    return Finding.of(
        FindingKind.NOT_ON_RECORD,
        io.symbolon.text.VisibleText.of(folder.toString()),
        "It is named as a folder that Symbolon makes for its work, and this account has none of"
            + " that name on record. It was not read and is left as it is.",
        "Find out what it is: another account may work there, an older version may have left it,"
            + " or somebody has renamed a folder. Name it by itself to read it.");
  }

  /**
   * Reads the content of one file that need not be on disk. What is wrong with it is in the result.
   *
   * @param name what to call it
   * @param content the whole content
   * @return the file survey
   */
  public FileSurvey read(Path name, byte[] content) {
    return new ContentReader(unlock, budget.orElseGet(WorkBudget::full)).read(name, content);
  }

  /** {@return what belongs together in files that were read before, each by {@link #read}} */
  public Survey together(List<FileSurvey> files) {
    return Survey.of(
        files,
        List.of(),
        List.of(),
        hosts,
        new CertificateJudge(clock.instant(), expiryWarning),
        systemRoots,
        budget.orElseGet(WorkBudget::full));
  }
}
