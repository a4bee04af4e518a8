// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.FailureMessages;
import java.util.List;

/**
 * Certificates are on record, and the one who should have taken their keys failed. The credentials
 * are still here: a program can save them, or revoke the certificates.
 */
public final class UndeliveredBatchException extends SymbolonException {
  private static final long serialVersionUID = 1L;

  private final transient List<Credential> credentials;

  UndeliveredBatchException(List<Credential> credentials, RuntimeException cause) {
    super(
        cause instanceof SymbolonException known ? known.reason() : Reason.NOT_WRITABLE,
        "The authority has signed "
            + credentials.size()
            + " certificates, and saving their private keys failed.",
        cause instanceof SymbolonException known
            ? known.statement() + " " + known.seen()
            : FailureMessages.of(cause) + ".",
        Remedy.of(
            (cause instanceof SymbolonException known ? known.remedy().advice() + " " : "")
                + "Then look which of them were saved. Revoke the others, which are on record, and issue"
                + " them again: nobody has their keys."),
        cause);
    this.credentials = List.copyOf(credentials);
  }

  /** {@return the credentials of the batch, with their keys} */
  public List<Credential> credentials() {
    return credentials;
  }
}
