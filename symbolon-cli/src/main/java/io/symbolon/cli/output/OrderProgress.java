// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.acme.Ordering;
import io.symbolon.cli.session.Session;
import io.symbolon.text.VisibleText;

/** Tells the steps of an order, for a person alone. */
public final class OrderProgress implements Ordering.Progress {
  private final Session session;

  public OrderProgress(Session session) {
    this.session = session;
  }

  @Override
  public void reached(Ordering.Step step, String about) {
    if (!session.errIsTerminal()) {
      return;
    }
    String name = VisibleText.of(about);
    session
        .err()
        .println(
            switch (step) {
              case SHOWING -> name + ": shows what the authority wants to see";
              case WAITING_FOR_PROOF -> name + ": the authority looks at it";
              case PROVEN -> name + ": control is proven";
              case REQUESTED -> "The request for the certificate is sent";
              case WAITING_FOR_CERTIFICATE -> "The certificate is being made";
              case FETCHED -> "The certificate is here";
              case GIVEN_UP -> "The order of before did not move in time; another one is begun";
            });
    session.err().flush();
  }
}
