// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.machine.ServerCommand;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How a running server takes new settings.
 *
 * @param kind how much it interrupts
 * @param commands what does it, one after the other; nothing where no command is known
 * @param running whether the server runs, so that there is something to reload
 * @param says what is to be known of it, as a sentence
 * @param ends the process that has to end after the first command, before the next one is given
 * @param since when the process that runs was started, where that is known: what is older than it
 *     has been read
 */
public record Reload(
    Kind kind,
    List<ServerCommand> commands,
    boolean running,
    String says,
    Optional<Long> ends,
    Optional<Instant> since) {
  /** How much it interrupts. */
  public enum Kind {
    /** Connections stay. */
    RELOAD,
    /** The server stops and starts again. */
    RESTART,
    /** The server notices the new files by itself. */
    BY_ITSELF,
    /** Somebody restarts it: no command of this system is run from here. */
    BY_HAND
  }

  /**
   * {@return what is to be done with a service of a Windows, which is named and not restarted}
   *
   * @param service how the service is usually called
   * @param says what is to be known of it
   */
  public static Reload service(String service, String says) {
    return new Reload(
        Kind.BY_HAND,
        List.of(ServerCommand.of("Restart-Service", "-Name", service)),
        false,
        says
            + " Restart its service as an administrator, in PowerShell. It is usually called "
            + service
            + ".");
  }

  /**
   * {@return a restart by the system's service manager, where that has started the server; by hand
   * otherwise}
   *
   * @param process the server's process, where it runs
   * @param says what is to be known of it
   */
  public static Reload restart(Optional<RunningServer> process, String says) {
    return process
        .flatMap(RunningServer::unit)
        .map(unit -> List.of(ServerCommand.of("systemctl", "restart", unit)))
        .map(commands -> new Reload(Kind.RESTART, commands, true, says))
        .orElseGet(() -> new Reload(Kind.BY_HAND, List.of(), process.isPresent(), says))
        .withProcess(process);
  }

  /**
   * One after which no process has to end.
   *
   * @param kind how much it interrupts
   * @param running whether the server runs
   * @param says what is to be known
   */
  public Reload(Kind kind, List<ServerCommand> commands, boolean running, String says) {
    this(kind, commands, running, says, Optional.empty(), Optional.empty());
  }

  /**
   * {@return the same, before whose second command a process has to end}
   *
   * @param process its number
   */
  public Reload withEnding(Optional<Long> process) {
    return new Reload(kind, commands, running, says, process, since);
  }

  /**
   * {@return the same, of a process that runs}
   *
   * @param process the process, where it is known
   */
  public Reload withProcess(Optional<RunningServer> process) {
    return new Reload(kind, commands, running, says, ends, process.flatMap(RunningServer::started));
  }

  /** Copies the commands. */
  public Reload {
    commands = List.copyOf(commands);
  }
}
