// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.cli.session.Session;
import io.symbolon.survey.Progress;

/** A line that counts files while they are read: only for a person, and only for many. */
public final class ProgressLine implements Progress {
  private static final int FEW = 200;

  private final Session session;

  public ProgressLine(Session session) {
    this.session = session;
  }

  @Override
  public void files(int done, int total) {
    if (!session.errIsTerminal() || total < FEW) {
      return;
    }
    if (done == total) {
      session.err().print("\r\u001B[K");
      session.err().flush();
    } else if (done % 100 == 0) {
      session.err().printf("\rreading: %,d of %,d files", done, total);
      session.err().flush();
    }
  }
}
