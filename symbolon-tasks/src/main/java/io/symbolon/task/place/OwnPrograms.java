// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.place;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.file.FileSet;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Programs of the administrator's own that are started for each new certificate, for what {@code
 * configure} does not know. Called without arguments, and told in the environment:
 *
 * <ul>
 *   <li>{@code SYMBOLON_DO}: {@code take}; it returns when that is done
 *   <li>{@code SYMBOLON_HOST}: the first host of the certificate
 *   <li>{@code SYMBOLON_FILE}: the file or folder with the key and the certificate
 *   <li>{@code SYMBOLON_ACCOUNT}: the folder of the account
 * </ul>
 *
 * <p>One that does not end with 0 is started again by the next renewal.
 */
public final class OwnPrograms {
  private static final Duration LIMIT = Duration.ofMinutes(5);

  private final AccountFolder account;
  private final Standing standing;

  /** Those of a certificate. */
  public OwnPrograms(AccountFolder account, Standing standing) {
    this.account = account;
    this.standing = standing;
  }

  /** Puts one on record. */
  public void add(Path program) {
    PlacesRecord all = record();
    String path = program.toAbsolutePath().normalize().toString();
    if (all.allPrograms().stream().noneMatch(one -> one.path().equals(path))) {
      List<PlacesRecord.Program> more = new ArrayList<>(all.allPrograms());
      more.add(new PlacesRecord.Program(path, ""));
      save(all.withPrograms(more));
    }
  }

  private PlacesRecord record() {
    return account.places(standing).map(PlacesText::read).orElse(PlacesRecord.NONE);
  }

  private void save(PlacesRecord record) {
    List<WrittenItem> unused =
        FileSet.write(
            List.of(account.placesItem(standing, PlacesText.write(record)).withoutUndo()));
  }

  /**
   * What became of a program.
   *
   * @param path the program
   * @param started whether it was started just now; else it has been, for this certificate
   * @param failure why it did not do it, where it did not
   */
  public record Told(Path path, boolean started, Optional<Finding> failure) {}

  /** {@return what became of each: started where it has not ended well for this certificate yet} */
  public List<Told> run(Certificate certificate, String host, Path into) {
    PlacesRecord all = record();
    List<Told> told = new ArrayList<>();
    List<PlacesRecord.Program> now = new ArrayList<>();
    for (PlacesRecord.Program one : all.allPrograms()) {
      boolean done = one.told().equals(certificate.sha256());
      Optional<Finding> failure = done ? Optional.empty() : start(one, host, into);
      told.add(new Told(Path.of(one.path()), !done, failure));
      now.add(
          new PlacesRecord.Program(
              one.path(), failure.isPresent() ? one.told() : certificate.sha256()));
    }
    if (!now.equals(all.allPrograms())) {
      save(all.withPrograms(now));
    }
    return told;
  }

  private Optional<Finding> start(PlacesRecord.Program program, String host, Path into) {
    ServerCommand command =
        ServerCommand.of(program.path())
            .within(LIMIT)
            .with(
                Map.of(
                    "SYMBOLON_DO",
                    "take",
                    "SYMBOLON_HOST",
                    host,
                    "SYMBOLON_FILE",
                    into.toString(),
                    "SYMBOLON_ACCOUNT",
                    account.folder().toAbsolutePath().normalize().toString()));
    CommandResult result = Machine.here().programs().run(command);
    return command.isGood(result)
        ? Optional.empty()
        : Optional.of(
            Finding.of(
                FindingKind.NEW_FILES_NOT_TAKEN,
                Level.PROBLEM,
                VisibleText.of(program.path()),
                "The program did not take the new certificate. " + how(result),
                "Run it by hand, with the variables of docs/automatic.md, and mend it. The next"
                    + " renewal starts it again."));
  }

  private static String how(CommandResult result) {
    String printed = VisibleText.of(result.output().strip());
    String end =
        switch (result.end()) {
          case NOT_STARTED -> "It could not be started.";
          case REFUSED -> "It was not started.";
          case TOO_LONG -> "It did not end within " + LIMIT.toMinutes() + " minutes.";
          case ENDED -> "It ended with " + result.exitCode() + ".";
        };
    return end
        + (printed.isEmpty()
            ? ""
            : (result.end() == CommandResult.End.ENDED ? " It printed: " : " ") + printed);
  }
}
