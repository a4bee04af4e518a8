// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.survey;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.rule.RuleCheck;
import io.symbolon.issue.rule.Rules;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.RulesSource;
import io.symbolon.task.TaskRun;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Looks at what files and folders hold; names do not matter, the content decides. */
public final class SurveyJob {
  private final List<Path> paths;
  private final List<PasswordSource> unlock;
  private final List<HostName> hosts;
  private final Optional<RulesSource> rules;

  private SurveyJob(Builder builder) {
    this.paths = builder.paths;
    this.unlock = List.copyOf(builder.unlock);
    this.hosts = List.copyOf(builder.hosts);
    this.rules = Optional.ofNullable(builder.rules);
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param paths files and folders
   */
  public static Builder of(Collection<Path> paths) {
    return new Builder(paths);
  }

  /** {@return the same for these} */
  public static Builder of(Path... paths) {
    return of(List.of(paths));
  }

  /**
   * Looks. A file that can't be read is among the survey's failures.
   *
   * @param run what it is done in
   * @return what is there
   */
  public SurveyReport run(TaskRun run) {
    Survey survey = run.surveyor(run.unlock(unlock)).withHosts(hosts).survey(paths);
    return new SurveyReport(survey, more(run, survey));
  }

  /** The rules of the receiver that requests here break, and what was noted on the way. */
  private List<Finding> more(TaskRun run, Survey survey) {
    Optional<Rules> read = rules.map(RulesSource::read);
    List<Finding> more = new ArrayList<>();
    for (RequestStatus status : survey.requests()) {
      CertificateRequest request = status.request().request();
      String where = status.request().place().toString();
      more.addAll(RuleCheck.all(RequestDraft.of(request), request.publicKey(), read, where));
    }
    if (read.isPresent() && survey.requests().isEmpty()) {
      more.add(
          Finding.of(
              FindingKind.NO_REQUEST,
              "",
              "The rules were applied to nothing: no request is among the files.",
              "Name the file of the request."));
    }
    more.addAll(run.notices());
    return more;
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> paths;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private final List<HostName> hosts = new ArrayList<>();
    private @Nullable RulesSource rules;

    private Builder(Collection<Path> paths) {
      this.paths = List.copyOf(paths);
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** Hosts that a certificate here should cover. */
    public Builder hosts(Collection<HostName> names) {
      hosts.addAll(names);
      return this;
    }

    /** What the receiver of the requests here wants. */
    public Builder rules(RulesSource source) {
      rules = source;
      return this;
    }

    /** {@return the job} */
    public SurveyJob build() {
      return new SurveyJob(this);
    }
  }
}
