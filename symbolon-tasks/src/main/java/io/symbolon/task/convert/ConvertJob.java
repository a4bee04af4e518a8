// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.convert;

import io.symbolon.convert.Conversion;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.WrittenResult;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/**
 * Writes what files hold, all of it or a part, in another format: read again and compared, octet
 * for octet, before it gets its name.
 */
public final class ConvertJob {
  private final List<Path> files;
  private final List<PasswordSource> unlock;
  private final ConvertOptions content;
  private final Destination destination;
  private final ResultOptions result;

  private ConvertJob(Builder builder) {
    this.files = builder.files;
    this.unlock = List.copyOf(builder.unlock);
    this.content = builder.content;
    this.destination = builder.destination;
    this.result = builder.result;
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param files the files; several are put together
   * @param into where the result goes, and in which format
   */
  public static Builder of(Collection<Path> files, Destination into) {
    return new Builder(files, into);
  }

  /** {@return the same for one file, and a result whose ending tells its format} */
  public static Builder of(Path file, Path into) {
    return of(List.of(file), Destination.of(into));
  }

  /**
   * Reads, converts, proves and writes.
   *
   * @param run what it is done in; it is told what will be lost before anything is asked or written
   * @return what was written, with everything that is to be said
   * @throws io.symbolon.failure.SymbolonException if it can't be done; nothing has changed then
   */
  public WrittenResult run(TaskRun run) {
    destination.check(result.existing());
    List<Secret> passwords = run.unlock(unlock);
    return result.holding(List.of(destination.path()), () -> converted(run, passwords));
  }

  private WrittenResult converted(TaskRun run, List<Secret> passwords) {
    Survey survey = run.survey(files, passwords);
    Conversion conversion =
        Conversion.plan(
            survey, content, destination.target(), result.keyForm(), destination.shown());
    if (!destination.folder()) {
      conversion.checkOneKey();
    }
    if (conversion.holdsKeys()) {
      destination.checkPrivate(result.existing());
    }
    run.around().beforeWriting(conversion.findings());
    return WrittenResult.write(run, result, destination, conversion).with(run.notices());
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> files;
    private final Destination destination;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private ConvertOptions content = ConvertOptions.everything();
    private ResultOptions result = ResultOptions.USUAL;

    private Builder(Collection<Path> files, Destination destination) {
      this.files = List.copyOf(files);
      this.destination = destination;
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** The same for one. */
    public Builder unlock(PasswordSource source) {
      return unlock(List.of(source));
    }

    /** What of it is meant; everything, where it is not said. */
    public Builder content(ConvertOptions said) {
      content = said;
      return this;
    }

    /** How it is written. */
    public Builder result(ResultOptions said) {
      result = said;
      return this;
    }

    /** Sealed with this, and otherwise as usual. */
    public Builder seal(SealSource seal) {
      return result(ResultOptions.sealedWith(seal));
    }

    /** {@return the job} */
    public ConvertJob build() {
      return new ConvertJob(this);
    }
  }
}
