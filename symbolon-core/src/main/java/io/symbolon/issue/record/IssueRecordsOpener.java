// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.SymbolonException;
import java.nio.file.Path;

/**
 * Opens the records of an authority that are in a database; found by {@link
 * java.util.ServiceLoader}, so that this library needs no database itself.
 */
public interface IssueRecordsOpener {
  /**
   * {@return the opened records}
   *
   * @param place where they are, as {@link SigningAuthority#moveRecords} was told
   * @param folder the folder of the authority
   * @param authority the key of the authority whose records they must be, as the SHA-256 of its
   *     public key in hexadecimal
   * @throws SymbolonException if they can't be reached, or are another authority's
   */
  IssueRecords open(String place, Path folder, String authority);
}
