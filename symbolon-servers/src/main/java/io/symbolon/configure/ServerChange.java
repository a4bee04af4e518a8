// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.PendingFiles;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.remedy.Naming;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A change of a server's settings that has been judged and not yet been made. Closing it wipes the
 * keys that it would write and the passwords that were read from settings. Not for several threads.
 */
public final class ServerChange implements AutoCloseable {
  private final Server server;
  private final Machine machine;
  private final Installation installation;
  private final Wish wish;
  private final List<Party> clients;
  private final Proposal proposal;
  private final PlaceReport place;
  private final List<Endpoint> redirecting;
  private final List<RehearsedClient> rehearsed;
  private final List<Finding> findings;
  private final Clock clock;
  private final List<Secret> read;
  private List<FileItem> notes = List.of(); // files that are no part of the server

  ServerChange(
      Server server,
      Machine machine,
      Installation installation,
      Wish wish,
      List<Party> clients,
      Proposal proposal,
      PlaceReport place,
      List<Endpoint> redirecting,
      List<RehearsedClient> rehearsed,
      List<Finding> findings,
      Clock clock,
      List<Secret> read) {
    this.server = server;
    this.machine = machine;
    this.installation = installation;
    this.wish = wish;
    this.clients = List.copyOf(clients);
    this.proposal = proposal;
    this.place = place;
    this.redirecting = List.copyOf(redirecting);
    this.rehearsed = List.copyOf(rehearsed);
    this.findings = List.copyOf(findings);
    this.clock = clock;
    this.read = List.copyOf(read);
  }

  /** {@return the server's name as its makers write it} */
  public String title() {
    return server.title();
  }

  /** {@return where the server is} */
  public Installation installation() {
    return installation;
  }

  /** {@return the place as it would be} */
  public PlaceReport place() {
    return place;
  }

  /** {@return the handshakes with the clients' files, as they would go} */
  public List<RehearsedClient> rehearsed() {
    return rehearsed;
  }

  /** {@return what is to be said of the change, the gravest first} */
  public List<Finding> findings() {
    return findings;
  }

  /** {@return the files that would be made or replaced} */
  public List<FileChange> files() {
    return proposal.changes().stream().filter(change -> !change.isNothing()).toList();
  }

  /** {@return what the server's own programs would do before} */
  public List<Proposal.Step> steps() {
    return proposal.steps();
  }

  /** {@return whether everything is as it is wanted already} */
  public boolean isNothing() {
    return proposal.isNothing();
  }

  /** {@return whether the server would refuse it, or its clients: then it is not made} */
  public boolean isRefused() {
    return Finding.anyProblem(findings);
  }

  /** When the youngest of its settings and of the files that they name was changed. */
  Instant changed() {
    Stream<Path> used = place.place().files().stream().map(UsedFile::path);
    return Stream.concat(server.read(machine, installation).files().stream(), used)
        .map(ServerChange::changed)
        .max(Instant::compareTo)
        .orElse(Instant.MAX);
  }

  /** A file that was put in its place with the time of another one counts from then on. */
  private static Instant changed(Path path) {
    try {
      return Files.getAttribute(path, "unix:ctime") instanceof FileTime time
          ? time.toInstant()
          : Instant.MAX;
    } catch (IOException | UnsupportedOperationException | IllegalArgumentException e) {
      return Instant.MAX; // nobody can tell: the server is restarted
    }
  }

  /** {@return the server's own check, where it has one} */
  public Optional<OwnCheck> check() {
    return server.check(machine, installation);
  }

  /** {@return how the server takes the new settings} */
  public Reload reload() {
    boolean settings = files().stream().anyMatch(FileChange::settings) || !steps().isEmpty();
    return server.reload(machine, installation, settings);
  }

  /** {@return how the running server is asked whether it does what is wanted} */
  public PlaceProbe probe() {
    return new PlaceProbe(place, wish, redirecting, clients, clock, reload().kind());
  }

  /**
   * Makes the change: writes the files in one step, has the server check them, and puts everything
   * back if it does not pass.
   *
   * @param reload whether the running server takes the new settings at once and is asked whether it
   *     does what is wanted; if not, everything is put back
   * @return what came of it
   * @throws SymbolonException if it is refused, or the files can't be written; then nothing has
   *     changed
   */
  public ChangeResult apply(boolean reload) {
    if (isRefused()) {
      Finding first =
          findings.stream().filter(one -> one.level() == Level.PROBLEM).findFirst().orElseThrow();
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The settings of " + server.title() + " were not changed.",
          (first.where().isEmpty() ? "" : first.where() + ": ") + first.statement(Naming.MARKS),
          first.remedy());
    }
    Reload how = reload();
    return new Applying(this, how).written(reload);
  }

  /**
   * Writes other files in the same step, where something is to be written: they come and go with
   * it.
   *
   * @param more files that are no part of the server
   */
  public void noting(List<FileItem> more) {
    notes = List.copyOf(more);
  }

  PendingFiles write() {
    return pending(files(), proposal.newFolders(), notes);
  }

  /** Writes files in one step that can still be taken back. */
  static PendingFiles pending(
      List<FileChange> changes, List<Path> newFolders, List<FileItem> more) {
    List<FileItem> items = new ArrayList<>(more);
    for (FileChange change : changes) {
      FileItem item =
          new FileItem(change.path(), change.after(), change.privacy(), Existing.REPLACE)
              .withOwner(change.owner())
              .expecting(change.snapshot());
      // Settings that were not there would count on; keys that nothing names any more do no harm.
      items.add(change.settings() ? item.goingWithUndo() : item);
    }
    // One step makes folders in folders that are there: those around them are made before.
    List<Path> outer =
        newFolders.stream()
            .filter(
                one -> newFolders.stream().anyMatch(two -> !two.equals(one) && two.startsWith(one)))
            .toList();
    List<Path> made = new ArrayList<>();
    try {
      for (Path folder : outer) {
        Files.createDirectory(folder);
        made.add(0, folder);
      }
      return FileSet.writePending(
          items, newFolders.stream().filter(one -> !outer.contains(one)).toList());
    } catch (IOException e) {
      removed(made);
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was written.",
          "The folder "
              + VisibleText.of(outer.get(made.size()).toString())
              + " can't be made: "
              + e.getClass().getSimpleName().replace("Exception", "")
              + ".",
          "Make it, and give the command again.",
          e);
    } catch (SymbolonException e) {
      removed(made);
      throw e;
    }
  }

  private static void removed(List<Path> folders) {
    for (Path folder : folders) {
      try {
        Files.deleteIfExists(folder);
      } catch (IOException e) {
        return; // somebody has put something into it
      }
    }
  }

  @Override
  public void close() {
    read.forEach(Secret::close);
    for (FileChange change : proposal.changes()) {
      if (!change.settings() && change.privacy() == Privacy.OWNER_ONLY) {
        Arrays.fill(change.after(), (byte) 0);
      }
    }
  }

  CommandResult run(io.symbolon.server.machine.ServerCommand command) {
    return machine.programs().run(command);
  }
}
