// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import java.math.BigInteger;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What the authority has revoked, whichever command or host did it. */
final class RevokedView {
  private static final Logger LOG = LoggerFactory.getLogger(RevokedView.class);

  private final AuthorityFolder folder;

  RevokedView(AuthorityFolder folder) {
    this.folder = folder;
  }

  boolean has(BigInteger serial) throws Trouble {
    try {
      return folder.revocation(serial).isPresent();
    } catch (SymbolonException e) {
      LOG.warn("what is revoked can't be read: {} {}", e.statement(), e.seen());
      throw new Trouble(ProblemType.SERVER_INTERNAL, "what is revoked can't be read");
    }
  }
}
