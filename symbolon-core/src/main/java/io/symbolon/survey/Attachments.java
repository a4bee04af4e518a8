// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import java.io.IOException;
import java.io.InputStream;

/**
 * Takes a saved mail apart. The core recognises a mail and bounds what comes out of it; a module of
 * its own knows how mails are built.
 */
@FunctionalInterface
public interface Attachments {
  /**
   * Hands every part of a mail on.
   *
   * @param mail the whole mail
   * @param each gets the parts
   * @throws IOException if the mail is damaged
   */
  void read(byte[] mail, Sink each) throws IOException;

  /** Gets the parts of a mail. */
  @FunctionalInterface
  interface Sink {
    /**
     * Takes one part.
     *
     * @param name what the sender calls it
     * @param text whether it is a text of the mail itself
     * @param content its content, decoded
     * @return whether more is wanted
     * @throws IOException if the part is damaged
     */
    boolean take(String name, boolean text, InputStream content) throws IOException;
  }
}
