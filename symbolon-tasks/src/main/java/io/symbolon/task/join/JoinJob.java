// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.join;

import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.InPlaceCompletion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.format.Format;
import io.symbolon.join.JoinOptions;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.InPlace;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.WrittenResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Makes one credential of a private key, its certificate and its chain, wherever they lie, and
 * writes it. Where the key waits for its certificate in a keystore, it gets it there.
 */
public final class JoinJob {
  private final List<Path> files;
  private final List<PasswordSource> unlock;
  private final JoinOptions options;
  private final Optional<Destination> into;
  private final Optional<Format> format;
  private final ResultOptions result;

  private JoinJob(Builder builder) {
    this.files = List.copyOf(builder.files);
    this.unlock = List.copyOf(builder.unlock);
    this.options = builder.options;
    this.into = Optional.ofNullable(builder.into);
    this.format = Optional.ofNullable(builder.format);
    this.result = builder.result;
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param files files and folders among which the key, the certificate and the chain are
   */
  public static Builder of(Collection<Path> files) {
    return new Builder(files);
  }

  /** {@return the same for these} */
  public static Builder of(Path... files) {
    return of(List.of(files));
  }

  /**
   * Reads, joins, proves and writes.
   *
   * @param run what it is done in
   * @return what was joined and where it went
   * @throws SymbolonException if there is no such credential, or it can't be written; nothing has
   *     changed then
   */
  public JoinReport run(TaskRun run) {
    into.ifPresent(destination -> destination.checkPrivate(result.existing()));
    List<Secret> passwords = run.unlock(unlock);
    return result.holding(changed(), () -> joined(run, passwords));
  }

  private List<Path> changed() {
    List<Path> changed = new ArrayList<>();
    into.ifPresent(destination -> changed.add(destination.path()));
    if (result.replaces()) {
      changed.addAll(files);
    }
    return changed;
  }

  private JoinReport joined(TaskRun run, List<Secret> passwords) {
    Survey survey = run.survey(files, passwords);
    Joined joined = Joiner.join(survey, options);
    Optional<Path> waiting =
        InPlaceCompletion.keystore(joined, survey, into.map(Destination::path));
    Optional<InPlaceCompletion> completion =
        waiting.map(store -> InPlaceCompletion.of(store, run.surveyor(passwords), joined));
    Optional<StoreEdit> renewed =
        completion.isPresent() ? Optional.empty() : renewed(run, passwords, joined);
    WrittenResult written =
        completion.isPresent()
            ? InPlace.write(run, result, format, completion.get(), waiting.orElseThrow())
            : renewed.isPresent() ? renew(run, joined, renewed.get()) : fresh(run, joined);
    String alias = completion.flatMap(InPlaceCompletion::alias).orElse(joined.alias());
    List<Finding> findings = new ArrayList<>(joined.findings());
    findings.addAll(written.findings());
    findings.addAll(run.notices());
    boolean kept = waiting.isPresent() || renewed.isPresent();
    return new JoinReport(joined, alias, waiting.isPresent(), kept, written, findings, survey);
  }

  /**
   * The keystore that the result replaces, where it has a key with the same alias: that key is
   * renewed, and all else in the keystore stays. One that can't be read wholly is replaced as a
   * whole, and what is lost by that is told.
   */
  private Optional<StoreEdit> renewed(TaskRun run, List<Secret> passwords, Joined joined) {
    Destination to = into.orElseThrow();
    if (!result.replaces() || !to.target().isStore() || !Files.isRegularFile(to.path())) {
      return Optional.empty();
    }
    try {
      return Optional.of(StoreEdit.open(to.path(), run.surveyor(passwords)))
          .filter(edit -> edit.target() == to.target() && edit.holdsKey(joined.alias()));
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private WrittenResult renew(TaskRun run, Joined joined, StoreEdit edit) {
    Destination to = into.orElseThrow().expecting(edit.snapshot());
    return WrittenResult.write(
        run,
        to,
        edit.renewed(joined.toEntry()),
        result.existing(),
        OutputProtection.of(run, result, to, edit),
        List.of());
  }

  private WrittenResult fresh(TaskRun run, Joined joined) {
    Destination to = into.orElseThrow();
    Conversion conversion =
        Conversion.of(
            Bundle.of(List.of(joined.toEntry())), to.target(), result.keyForm(), to.shown());
    return WrittenResult.write(run, result, to, conversion);
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final List<Path> files;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private JoinOptions options = JoinOptions.standard();
    private @org.jspecify.annotations.Nullable Destination into;
    private @org.jspecify.annotations.Nullable Format format;
    private ResultOptions result = ResultOptions.USUAL;

    private Builder(Collection<Path> files) {
      this.files = List.copyOf(files);
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** Which credential is meant, and what is accepted of its chain. */
    public Builder options(JoinOptions chosen) {
      options = chosen;
      return this;
    }

    /** Where it goes; without it, a waiting key gets its certificate in its place. */
    public Builder into(Destination destination) {
      into = destination;
      return this;
    }

    /** The format that a completed keystore must have. */
    public Builder format(Format said) {
      format = said;
      return this;
    }

    /** A keystore or PEM file whose ending tells its format, sealed with a password. */
    public Builder into(Path file, SealSource seal) {
      result = ResultOptions.sealedWith(seal);
      return into(Destination.of(file));
    }

    /** How it is written. */
    public Builder result(ResultOptions said) {
      result = said;
      return this;
    }

    /**
     * {@return the job}
     *
     * @throws WrongJob if it has no place for a private key to go to
     */
    public JoinJob build() {
      if (into != null && !into.target().holdsKeys()) {
        throw new WrongJob(
            into.target().title() + " has no place for the private key of a credential.",
            "Write pkcs12, jks, jceks or pem; or take the certificates alone with symbolon"
                + " convert.");
      }
      if (into == null && !result.replaces()) {
        throw new WrongJob(
            "No output file is given.",
            "Name the file with "
                + Input.INTO.mention()
                + ", such as "
                + Input.INTO.mention("keystore.p12")
                + "; or say "
                + Input.REPLACE.mention()
                + " alone if the key waits for its certificate in a keystore and must get it"
                + " there.");
      }
      return new JoinJob(this);
    }
  }
}
