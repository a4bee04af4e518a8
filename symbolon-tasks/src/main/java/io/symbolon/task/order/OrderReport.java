// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.configure.NewFiles;
import io.symbolon.finding.Finding;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/**
 * A certificate that was obtained.
 *
 * @param job what was ordered
 * @param account from whom
 * @param chain the certificate and those above it
 * @param alias its alias in a keystore
 * @param result where it went
 * @param reload what the server did, where one was named
 * @param findings what is to be said
 * @param shownBy the server that was given it, where one was said
 */
public record OrderReport(
    OrderJob job,
    OrderAccount account,
    List<Certificate> chain,
    String alias,
    WrittenResult result,
    Optional<NewFiles> reload,
    List<Finding> findings,
    Optional<ShownBy> shownBy) {
  /** One that was given to no server by the way. */
  public OrderReport(
      OrderJob job,
      OrderAccount account,
      List<Certificate> chain,
      String alias,
      WrittenResult result,
      Optional<NewFiles> reload,
      List<Finding> findings) {
    this(job, account, chain, alias, result, reload, findings, Optional.empty());
  }

  /** {@return the certificate} */
  public Certificate certificate() {
    return chain.get(0);
  }
}
