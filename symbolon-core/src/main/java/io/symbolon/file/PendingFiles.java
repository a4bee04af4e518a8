// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Files that have been written and may still be taken back, as if they had never been: what was
 * there before lies in its place again with its rights and its time, and what is new is gone.
 * Closing it keeps them. Not for several threads.
 */
public final class PendingFiles implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(PendingFiles.class);

  private final Step step;
  private final List<WrittenItem> written;
  private boolean done;

  PendingFiles(Step step, List<WrittenItem> written) {
    this.step = step;
    this.written = List.copyOf(written);
  }

  /** {@return what was written, in the order of the items} */
  public List<WrittenItem> written() {
    return written;
  }

  /**
   * Takes all of it back.
   *
   * @return files that somebody else has changed since; they stay as they are
   * @throws SymbolonException if a file can't be put back; a later command tries it again
   */
  public List<Path> takeBack() {
    if (done) {
      throw new IllegalStateException("it is kept or taken back already");
    }
    done = true;
    try (step) {
      return step.takeBack();
    } catch (IOException e) {
      throw WriteFailure.of(e, written.get(0).path());
    }
  }

  /** Keeps them, if they are not taken back already. */
  @Override
  public void close() {
    if (!done) {
      done = true;
      try {
        step.close();
      } catch (IOException e) {
        LOG.warn("what was prepared could not be removed: {}", NotWritten.message(e));
      }
    }
  }
}
