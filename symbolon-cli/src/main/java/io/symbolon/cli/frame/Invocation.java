// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.FindingsText;
import io.symbolon.cli.output.OrderProgress;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.ProgressLine;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.session.SessionSurroundings;
import io.symbolon.finding.Finding;
import io.symbolon.task.TaskRun;
import java.util.List;

/**
 * One run of a command: its session, its output, and what its task is done in. What was typed is
 * not here: each command makes its job of that first. Closing it wipes the passwords.
 */
public final class Invocation implements AutoCloseable {
  private final Session session;
  private final CommandAction action;
  private final Output output;
  private final TaskRun task;

  /**
   * A run.
   *
   * @param action what is run
   */
  public Invocation(Session session, CommandAction action, Output output) {
    this.session = session;
    this.action = action;
    this.output = output;
    this.task =
        TaskRun.in(
            new SessionSurroundings(
                session,
                new ProgressLine(session),
                new OrderProgress(session),
                findings -> FindingsText.beforeWriting(session, output, findings)));
  }

  /** What the task of this command is done in. */
  public TaskRun task() {
    return task;
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

  /** What is to be said of the places that passwords came from. */
  public List<Finding> notices() {
    return task.notices();
  }

  @Override
  public void close() {
    task.close();
  }
}
