// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.truststore;

import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.file.Existing;
import io.symbolon.file.Snapshot;
import io.symbolon.format.Format;
import io.symbolon.join.TrustSelector;
import io.symbolon.join.TrustSelector.Choice;
import io.symbolon.join.TruststoreContent;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.SealPassword;
import io.symbolon.task.result.WrittenResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Makes a truststore of certificates, or adds to one: never a key. */
public final class TruststoreJob {
  private final List<Path> files;
  private final List<PasswordSource> unlock;
  private final Choice choice;
  private final boolean add;
  private final Destination destination;
  private final ResultOptions result;

  private TruststoreJob(Builder builder) {
    this.files = builder.files;
    this.unlock = List.copyOf(builder.unlock);
    this.choice = builder.choice;
    this.add = builder.add;
    this.destination = builder.destination;
    this.result = builder.result;
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param files the files that hold the certificates
   * @param into the truststore
   */
  public static Builder of(Collection<Path> files, Destination into) {
    return new Builder(files, into);
  }

  /** {@return the same for one file, and a truststore whose ending tells its format} */
  public static Builder of(Path file, Path into) {
    return of(List.of(file), Destination.of(into));
  }

  /**
   * {@return a truststore that is there, in its own format, whatever it is called} Nothing, where
   * the file is of no format that is written.
   *
   * @param file the truststore
   */
  public static Optional<Destination> present(Path file) {
    Format format = Surveyor.create().survey(List.of(file)).files().get(0).format();
    return Format.written().contains(format)
        ? Optional.of(new Destination(file, format, false))
        : Optional.empty();
  }

  /**
   * Reads, chooses and writes.
   *
   * @param run what it is done in
   * @return what is trusted now
   * @throws io.symbolon.failure.SymbolonException if it can't be done; nothing has changed then
   */
  public TruststoreReport run(TaskRun run) {
    destination.check(add ? Existing.REPLACE : result.existing());
    List<Secret> passwords = run.unlock(unlock);
    return result.holding(
        List.of(destination.path()), () -> add ? added(run, passwords) : made(run, passwords));
  }

  private TruststoreReport made(TaskRun run, List<Secret> passwords) {
    TruststoreContent trust = TrustSelector.select(run.survey(files, passwords), choice);
    Conversion conversion = conversion(destination, trust);
    return new TruststoreReport(
        destination,
        trust,
        false,
        run.notices(),
        Optional.of(WrittenResult.write(run, result, destination, conversion)));
  }

  private static Conversion conversion(Destination destination, TruststoreContent trust) {
    return Conversion.of(
        Bundle.of(trust.entries()), destination.target(), KeyForm.PKCS8, destination.shown());
  }

  private TruststoreReport added(TaskRun run, List<Secret> passwords) {
    Survey survey = run.survey(files, passwords);
    Destination to =
        Snapshot.of(destination.path()).map(destination::expecting).orElse(destination);
    FileSurvey present = run.survey(List.of(to.path()), passwords).files().get(0);
    if (present.failure().isEmpty() && present.format() != to.target()) {
      throw new WrongJob(
          to.shown()
              + " is "
              + present.format().title()
              + ", and the result would be "
              + to.target().title()
              + ".",
          "Say its format with "
              + Input.FORMAT.mention()
              + ", or make a new truststore of it with another name.");
    }
    TruststoreContent trust = TrustSelector.add(present, survey, choice);
    if (trust.added().isEmpty()) {
      return new TruststoreReport(to, trust, true, run.notices(), Optional.empty());
    }
    boolean keepsPassword =
        to.target().isStore() && result.seal().isEmpty() && present.opener().isPresent();
    OutputProtection protection =
        keepsPassword
            ? OutputProtection.of(
                new SealPassword(present.opener().orElseThrow(), Existing.REPLACE),
                result.strength(to.target()))
            : OutputProtection.of(run, result, to, false);
    WrittenResult written =
        WrittenResult.write(
            run, to, conversion(to, trust), Existing.REPLACE, protection, List.of());
    return new TruststoreReport(to, trust, true, run.notices(), Optional.of(written));
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> files;
    private final Destination destination;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private Choice choice = Choice.AUTHORITIES;
    private boolean add;
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

    /** Which certificates are meant; the authorities', where it is not said. */
    public Builder choice(Choice said) {
      choice = said;
      return this;
    }

    /** Adds to the truststore that is there; it keeps its password where no other is said. */
    public Builder add() {
      add = true;
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

    /**
     * {@return the job}
     *
     * @throws WrongJob if there is nothing to add to
     */
    public TruststoreJob build() {
      if (add && (destination.folder() || !Files.exists(destination.path()))) {
        throw new WrongJob(
            "There is no truststore " + destination.shown() + " to add to.",
            "Check the name, or leave " + Input.ADD.mention() + " out to make a new one.");
      }
      return new TruststoreJob(this);
    }
  }
}
