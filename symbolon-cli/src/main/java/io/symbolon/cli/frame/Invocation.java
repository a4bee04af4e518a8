// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.ProgressLine;
import io.symbolon.cli.session.Session;
import io.symbolon.file.FolderLock;
import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.limit.WorkBudget;
import io.symbolon.mail.MailReader;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * One run of a command: its session, its output, and the passwords that it has been told. What was
 * typed is not here: each command makes its job of that first. Closing it wipes the passwords.
 */
public final class Invocation implements AutoCloseable {
  private final Session session;
  private final CommandAction action;
  private final Output output;
  private final List<Secret> secrets = new ArrayList<>();
  private final List<Finding> notices = new ArrayList<>();
  private final List<AuthorityFolder> authorities = new ArrayList<>();
  private final WorkBudget budget = WorkBudget.full(); // one for all that this command reads
  private final Map<List<SecretSource>, List<Secret>> unlocked = new HashMap<>();

  /**
   * A run.
   *
   * @param action what is run
   */
  public Invocation(Session session, CommandAction action, Output output) {
    this.session = session;
    this.action = action;
    this.output = output;
  }

  public Session session() {
    return session;
  }

  /** What is run. */
  public CommandAction action() {
    return action;
  }

  public Output output() {
    return output;
  }

  /** Tells that the work was not done, and returns what the caller ends with. */
  public int refused(int exitCode, String statement, String seen, String remedy) {
    Usage.failed(session, action, statement, seen, remedy);
    return exitCode;
  }

  /**
   * Does something while nobody else changes these files: no other command of Symbolon can read one
   * of them, change it and replace what this one has written in between.
   */
  public <T> T holding(List<Path> files, ResultOptions options, Supplier<T> work) {
    List<Path> all = new ArrayList<>(files);
    all.addAll(options.newPasswordFiles());
    return FolderLock.holding(all, work);
  }

  /** The passwords from these sources; asked for once, in the order they were named. */
  public List<Secret> unlock(List<SecretSource> sources) {
    List<Secret> known = unlocked.get(sources);
    if (known == null) {
      known =
          sources.stream()
              .flatMap(source -> source.resolveAll(session).stream())
              .map(this::keep)
              .toList();
      sources.forEach(this::note);
      unlocked.put(sources, known);
    }
    return known;
  }

  /** What is to be said of the places that passwords came from. */
  public List<Finding> notices() {
    return List.copyOf(notices);
  }

  /** An authority that is closed when the run ends. */
  public void closing(AuthorityFolder opened) {
    authorities.add(opened);
  }

  /** Something that this run has to say beside its result. */
  public void notice(Finding finding) {
    notices.add(finding);
  }

  private void note(SecretSource source) {
    source.exposure().filter(finding -> !notices.contains(finding)).ifPresent(notices::add);
  }

  private Secret keep(Secret secret) {
    secrets.add(secret);
    return secret;
  }

  /** The password for what is written; asked for where no source is given. */
  public SealPassword seal(ResultOptions options) {
    return seal(options, options.seal(), "--seal");
  }

  /** The password for the keys in what is written. */
  public SealPassword sealKey(ResultOptions options) {
    return seal(options, options.sealKey(), "--seal-key");
  }

  private SealPassword seal(ResultOptions options, Optional<SecretSource> given, String option) {
    SecretSource source = given.orElseGet(() -> SecretSource.parse(option, "ask"));
    SealPassword seal =
        source.resolveSeal(session, options.existing(), options.newPassword(), given.isPresent());
    keep(seal.secret());
    note(source);
    return seal;
  }

  public Survey survey(List<Path> paths, List<Secret> unlock) {
    return surveyor(unlock).survey(paths);
  }

  public Surveyor surveyor(List<Secret> unlock) {
    return Surveyor.create()
        .withUnlock(unlock)
        .withClock(session.clock())
        .withBudget(budget)
        .withMails((mail, each) -> new MailReader().read(mail, each)) // loaded when there is one
        .withProgress(new ProgressLine(session));
  }

  /** With every password that this run was told. */
  public Surveyor surveyorWithAll() {
    return surveyor(List.copyOf(secrets));
  }

  /** The authority in a folder. */
  public AuthorityFolder authority(Path folder) {
    AuthorityFolder opened = AuthorityFolder.open(folder, session.clock());
    authorities.add(opened);
    return opened;
  }

  /** The passwords to try on the key of an authority; one is asked for where none is said. */
  public List<Secret> keyPasswords(AuthorityFolder authority, List<SecretSource> unlock) {
    if (!unlock.isEmpty()) {
      return unlock(unlock);
    }
    return List.of(
        keep(
            SecretSource.parse("--unlock", "ask")
                .ask(
                    session,
                    "Password of " + HoldingText.name(authority.certificate().subject()))));
  }

  @Override
  public void close() {
    secrets.forEach(Secret::close);
    authorities.forEach(AuthorityFolder::close);
  }
}
