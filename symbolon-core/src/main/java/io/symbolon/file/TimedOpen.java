// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.FileSystemException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

/**
 * Opens what somebody else could exchange at any moment. Opening a pipe waits until somebody opens
 * its other end, and Java has no way to ask the system not to wait: so another thread opens, and is
 * given up when it does not come back.
 */
final class TimedOpen {
  private static final Duration MOST = Duration.ofSeconds(5);

  private TimedOpen() {}

  /** What opens. */
  interface Opening<T> {
    T open() throws IOException;
  }

  /**
   * {@return what was opened}
   *
   * @throws FileSystemException if it did not open in time
   */
  static <T extends Closeable> T open(Path path, Opening<T> opening) throws IOException {
    CompletableFuture<T> result = new CompletableFuture<>();
    Thread thread =
        new Thread(
            () -> {
              try {
                T opened = opening.open();
                if (!result.complete(opened)) {
                  opened.close(); // nobody waits for it any more
                }
              } catch (IOException | RuntimeException | Error e) {
                result.completeExceptionally(e);
              }
            },
            "symbolon opens a file");
    thread.setDaemon(true);
    thread.start();
    try {
      return result.get(MOST.toMillis(), TimeUnit.MILLISECONDS);
    } catch (TimeoutException e) {
      result.cancel(false);
      throw new FileSystemException(
          path.toString(),
          null,
          "it did not open within "
              + MOST.toSeconds()
              + " seconds: somebody has put a pipe in its place");
    } catch (InterruptedException e) {
      result.cancel(false);
      Thread.currentThread().interrupt();
      throw new FileSystemException(path.toString(), null, "opening it was interrupted");
    } catch (ExecutionException e) {
      Throwable cause = e.getCause();
      if (cause instanceof IOException failure) {
        throw failure;
      }
      if (cause instanceof RuntimeException failure) {
        throw failure;
      }
      throw (Error) cause;
    }
  }
}
