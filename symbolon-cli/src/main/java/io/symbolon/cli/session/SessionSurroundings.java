// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.session;

import io.symbolon.acme.Ordering;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Progress;
import io.symbolon.task.Surroundings;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * What a task finds around it in a run of the program.
 *
 * @param session the streams, the terminal and the clock
 * @param progress shows how far a long reading is
 * @param orderProgress shows the steps of an order
 * @param before shows what must be known before anything is written
 */
public record SessionSurroundings(
    Session session,
    Progress progress,
    Ordering.Progress orderProgress,
    Consumer<List<Finding>> before)
    implements Surroundings {
  @Override
  public Clock clock() {
    return session.clock();
  }

  @Override
  public Map<String, String> environment() {
    return session.environment();
  }

  @Override
  public boolean isAttended() {
    return session.errIsTerminal();
  }

  @Override
  public Optional<char[]> askPassword(String question) {
    session.flush();
    return session.prompt().ask(question);
  }

  @Override
  public boolean agreesToTerms(String address) {
    if (!session.prompt().isAttended()) {
      return false;
    }
    session.err().println("Terms of service of the authority: " + address);
    return session.prompt().agrees("Do you agree to them?");
  }

  @Override
  public void beforeWriting(List<Finding> findings) {
    before.accept(findings);
  }
}
