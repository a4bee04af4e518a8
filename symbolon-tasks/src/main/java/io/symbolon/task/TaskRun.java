// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.limit.WorkBudget;
import io.symbolon.mail.MailReader;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * One run of one job or of several: the passwords that it has been told, what it has to say beside
 * its result, and how much it may still read. Closing it wipes the passwords.
 */
public final class TaskRun implements AutoCloseable {
  private final Surroundings around;
  private final List<Secret> secrets = new ArrayList<>();
  private final List<Secret> given = new ArrayList<>();
  private final List<Finding> notices = new ArrayList<>();
  private final List<AuthorityFolder> authorities = new ArrayList<>();
  private final WorkBudget budget = WorkBudget.full(); // one for all that is read
  private final Map<List<PasswordSource>, List<Secret>> unlocked = new HashMap<>();

  private TaskRun(Surroundings around) {
    this.around = around;
  }

  /** {@return a run in a program, with nobody to ask} */
  public static TaskRun open() {
    return in(Surroundings.ofProgram());
  }

  /**
   * {@return a run}
   *
   * @param around what it needs from around it
   */
  public static TaskRun in(Surroundings around) {
    return new TaskRun(around);
  }

  /**
   * Tries passwords that a program has at hand on whatever is read, beside those of each job.
   *
   * @param passwords the passwords, which the caller wipes
   * @return this run
   */
  public TaskRun trying(Secret... passwords) {
    given.addAll(List.of(passwords));
    return this;
  }

  /** {@return whether a program gave passwords, so that nobody has to be asked for one} */
  public boolean hasGivenPasswords() {
    return !given.isEmpty();
  }

  /** {@return what is around it} */
  public Surroundings around() {
    return around;
  }

  /**
   * {@return the passwords from these sources} They are asked for once, in the order in which they
   * were named, and wiped with this run.
   *
   * @param sources where they come from
   */
  public List<Secret> unlock(List<PasswordSource> sources) {
    List<Secret> known = unlocked.get(sources);
    if (known == null) {
      PasswordReader reader = new PasswordReader(around, Input.PASSWORD);
      known =
          sources.stream()
              .flatMap(source -> reader.all(source).stream())
              .map(this::keeping)
              .toList();
      sources.forEach(this::note);
      unlocked.put(sources, known);
    }
    return Stream.concat(known.stream(), given.stream()).toList();
  }

  /**
   * {@return what a person types, which the caller wipes or {@linkplain #keeping keeps}}
   *
   * @param input what it is for
   * @param question what the person is asked
   */
  public Secret asked(Input input, String question) {
    return new PasswordReader(around, input).asked(question);
  }

  /**
   * {@return one password, wiped with this run}
   *
   * @param source where it comes from
   * @param input what it is for
   * @param question what a person is asked
   */
  public Secret secret(PasswordSource source, Input input, String question) {
    return keeping(new PasswordReader(around, input).one(source, question));
  }

  /**
   * Has a secret wiped with this run.
   *
   * @return the same
   */
  public Secret keeping(Secret secret) {
    secrets.add(secret);
    return secret;
  }

  /** Notes what is to be said of a source whose password others can read or replace. */
  public void note(SealSource source) {
    if (source instanceof PasswordSource known) {
      PasswordReader.exposure(known)
          .filter(finding -> !notices.contains(finding))
          .ifPresent(notices::add);
    }
  }

  /**
   * Notes what is to be said beside the result.
   *
   * @param finding what is to be said
   */
  public void notice(Finding finding) {
    notices.add(finding);
  }

  /** {@return what is to be said beside the result} */
  public List<Finding> notices() {
    return List.copyOf(notices);
  }

  /**
   * {@return what files and folders hold}
   *
   * @param paths the files and folders
   * @param unlock the passwords to try
   */
  public Survey survey(List<Path> paths, List<Secret> unlock) {
    return surveyor(unlock).survey(paths);
  }

  /**
   * {@return what reads files, within what this run may still read}
   *
   * @param unlock the passwords to try
   */
  public Surveyor surveyor(List<Secret> unlock) {
    return Surveyor.create()
        .withUnlock(unlock)
        .withClock(around.clock())
        .withBudget(budget)
        .withMails((mail, each) -> new MailReader().read(mail, each)) // loaded when there is one
        .withProgress(around.progress());
  }

  /** {@return the same with every password that this run was told} */
  public Surveyor surveyorWithAll() {
    return surveyor(Stream.concat(secrets.stream(), given.stream()).toList());
  }

  /** {@return the authority in a folder, which is closed with this run} */
  public AuthorityFolder authority(Path folder) {
    return closing(AuthorityFolder.open(folder, around.clock()));
  }

  /**
   * Has an authority closed with this run.
   *
   * @param opened the authority
   * @return the same
   */
  public AuthorityFolder closing(AuthorityFolder opened) {
    authorities.add(opened);
    return opened;
  }

  /**
   * {@return the passwords to try on the key of an authority; a person is asked where none is said}
   *
   * @param unlock where they come from
   */
  public List<Secret> keyPasswords(AuthorityFolder authority, List<PasswordSource> unlock) {
    return unlock.isEmpty() && given.isEmpty()
        ? List.of(
            secret(
                PasswordSource.ASKED,
                Input.PASSWORD,
                "Password of " + Wording.name(authority.certificate().subject())))
        : unlock(unlock);
  }

  @Override
  public void close() {
    secrets.forEach(Secret::close);
    authorities.forEach(AuthorityFolder::close);
  }
}
