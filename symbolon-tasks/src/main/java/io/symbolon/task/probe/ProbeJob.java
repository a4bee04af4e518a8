// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.probe;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.party.Party;
import io.symbolon.probe.Probe;
import io.symbolon.probe.ProbeReport;
import io.symbolon.remedy.Input;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.rehearse.RehearsalFiles;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Asks a running server, with what a client would trust and show from files. */
public final class ProbeJob {
  private final Probe probe;
  private final List<Path> trust;
  private final List<Path> credential;
  private final Optional<Path> expected;
  private final List<PasswordSource> unlock;
  private final Optional<Path> into;
  private final boolean replace;

  private ProbeJob(Builder builder) {
    this.probe = builder.probe;
    this.trust = builder.trust;
    this.credential = builder.credential;
    this.expected = Optional.ofNullable(builder.expected);
    this.unlock = List.copyOf(builder.unlock);
    this.into = Optional.ofNullable(builder.into);
    this.replace = builder.replace;
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param probe the server and how it is asked, without any files
   */
  public static Builder of(Probe probe) {
    return new Builder(probe);
  }

  /**
   * Asks.
   *
   * @param run what it is done in
   * @return what was seen
   * @throws SymbolonException if the server does not answer, or a file can't be used
   */
  public ProbeAnswer run(TaskRun run) {
    if (into.isPresent() && Files.exists(into.get()) && !replace) {
      throw SentCertificates.exists(into.get());
    }
    RehearsalFiles files = new RehearsalFiles(run, unlock, new ArrayList<>());
    Probe whole = probe.withClock(run.around().clock());
    if (!trust.isEmpty()) {
      whole = whole.withTrust(trusted(files));
    }
    if (!credential.isEmpty()) {
      whole = whole.withCredential(shown(files));
    }
    if (expected.isPresent()) {
      whole = whole.withExpected(deployed(run, expected.get()));
    }
    ProbeReport report = whole.run();
    List<Finding> findings = new ArrayList<>(report.findings());
    findings.addAll(files.findings());
    findings.addAll(run.notices());
    into.ifPresent(file -> findings.add(SentCertificates.save(report, file, replace)));
    findings.sort(Comparator.comparing(Finding::level));
    return new ProbeAnswer(report, findings, into);
  }

  /** Whom a client would trust, read as in a rehearsal. */
  private List<Certificate> trusted(RehearsalFiles files) {
    List<Certificate> found = files.trust(trust).orElseThrow();
    if (found.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The trust given can't be used.",
          files.findings().stream()
              .filter(finding -> finding.is(FindingKind.NOT_MARKED_AS_TRUSTED))
              .map(Finding::statement)
              .findFirst()
              .orElse("There is no certificate in " + Wording.shown(trust) + "."),
          "Give the truststore or the authority's certificate.");
    }
    return found;
  }

  private Credential shown(RehearsalFiles files) {
    List<Party> found = files.credentials(credential);
    if (found.size() != 1) {
      throw new SymbolonException(
          found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
          "There is no client's credential to probe with.",
          "The files of "
              + Input.CREDENTIAL.mention()
              + " hold "
              + (found.isEmpty() ? "no" : String.valueOf(found.size()))
              + " private keys with their certificates.",
          "Name the files of one client.");
    }
    return found.get(0).credential().orElseThrow();
  }

  private Certificate deployed(TaskRun run, Path file) {
    Survey survey = run.survey(List.of(file), run.unlock(unlock));
    List<Certificate> meant =
        survey.matches().stream()
            .flatMap(match -> match.certificates().stream().limit(1))
            .distinct()
            .toList();
    if (meant.isEmpty()) {
      meant = survey.certificates().keySet().stream().filter(one -> !one.isAuthority()).toList();
    }
    if (meant.size() == 1) {
      return meant.get(0);
    }
    if (meant.isEmpty() && !survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
    throw new SymbolonException(
        meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "It is not clear which certificate is expected.",
        Wording.shown(file) + " holds " + meant.size() + " end-entity certificates.",
        "Name a file with the one that was deployed.");
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final Probe probe;
    private List<Path> trust = List.of();
    private List<Path> credential = List.of();
    private @Nullable Path expected;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private @Nullable Path into;
    private boolean replace;

    private Builder(Probe probe) {
      this.probe = probe;
    }

    /** What a client would trust: truststores or certificates, in any format. */
    public Builder trust(Collection<Path> files) {
      trust = List.copyOf(files);
      return this;
    }

    /** What a client would show where the server asks for its certificate. */
    public Builder credential(Collection<Path> files) {
      credential = List.copyOf(files);
      return this;
    }

    /** The certificate or keystore that was deployed. */
    public Builder expected(Path file) {
      expected = file;
      return this;
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** A file into which the certificates go that the server sends. */
    public Builder into(Path file, boolean replaced) {
      into = file;
      replace = replaced;
      return this;
    }

    /** {@return the job} */
    public ProbeJob build() {
      return new ProbeJob(this);
    }
  }
}
