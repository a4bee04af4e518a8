package io.symbolon.survey;

import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import io.symbolon.chain.SystemRoots;
import io.symbolon.seal.Secret;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Reads files and folders and finds what belongs together. The settings are immutable: every {@code
 * with} method gives a new surveyor. Thread-safe.
 */
public final class Surveyor {
  private final List<Secret> unlock;
  private final List<HostName> hosts;
  private final Clock clock;
  private final SystemRoots systemRoots;
  private final Progress progress;

  private Surveyor(
      List<Secret> unlock,
      List<HostName> hosts,
      Clock clock,
      SystemRoots systemRoots,
      Progress progress) {
    this.unlock = List.copyOf(unlock);
    this.hosts = List.copyOf(hosts);
    this.clock = clock;
    this.systemRoots = systemRoots;
    this.progress = progress;
  }

  /** A surveyor without passwords and hosts, by the system's clock and Java's own roots. */
  public static Surveyor create() {
    return new Surveyor(
        List.of(), List.of(), Clock.systemUTC(), SystemRoots.ofPlatform(), (done, total) -> {});
  }

  /** With passwords to try on whatever is protected. */
  public Surveyor withUnlock(List<Secret> unlock) {
    return new Surveyor(unlock, hosts, clock, systemRoots, progress);
  }

  /** With hosts that a certificate among the files should cover. */
  public Surveyor withHosts(List<HostName> hosts) {
    return new Surveyor(unlock, hosts, clock, systemRoots, progress);
  }

  /** With a clock that says what is expired. */
  public Surveyor withClock(Clock clock) {
    return new Surveyor(unlock, hosts, clock, systemRoots, progress);
  }

  /** With other roots to look for the end of a chain in. */
  public Surveyor withSystemRoots(SystemRoots systemRoots) {
    return new Surveyor(unlock, hosts, clock, systemRoots, progress);
  }

  /** With somebody who is told how far it is. */
  public Surveyor withProgress(Progress progress) {
    return new Surveyor(unlock, hosts, clock, systemRoots, progress);
  }

  /**
   * Reads files and everything in folders. What can't be read is in the result; this does not fail.
   *
   * @param paths files and folders; one that is named twice counts once
   */
  public Survey survey(Collection<Path> paths) {
    Map<Path, Boolean> files = new LinkedHashMap<>(); // with whether it was named
    List<Finding> findings = new ArrayList<>();
    List<SymbolonException> failures = new ArrayList<>();
    for (Path path : paths) {
      if (Files.isDirectory(path)) {
        FolderWalk.Result walk = FolderWalk.of(path);
        walk.files().forEach(file -> files.putIfAbsent(file, false));
        failures.addAll(walk.failures());
        if (walk.files().isEmpty() && walk.failures().isEmpty()) {
          findings.add(
              Finding.note(
                  "empty-folder",
                  io.symbolon.VisibleText.of(path.toString()),
                  "The folder holds no file.",
                  ""));
        }
      } else {
        files.put(path, true);
      }
    }
    FileReader reader = new FileReader(unlock);
    List<FileSurvey> surveys = new ArrayList<>(files.size());
    for (Map.Entry<Path, Boolean> file : files.entrySet()) {
      surveys.add(reader.read(file.getKey(), file.getValue()));
      progress.files(surveys.size(), files.size());
    }
    return Survey.of(surveys, failures, findings, hosts, clock.instant(), systemRoots);
  }

  /**
   * Reads the content of one file that need not be on disk. What is wrong with it is in the result.
   *
   * @param name what to call it
   * @param content the whole content
   */
  public FileSurvey read(Path name, byte[] content) {
    return new ContentReader(unlock).read(name, content);
  }
}
