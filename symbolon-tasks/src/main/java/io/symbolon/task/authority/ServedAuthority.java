// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.record.AuthorityFolder;
import java.net.InetSocketAddress;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

/** An authority that answers until it is closed. */
public final class ServedAuthority implements AutoCloseable {
  private final AuthorityFolder folder;
  private final AuthorityServer server;
  private final ServedRecords records;

  ServedAuthority(AuthorityFolder folder, AuthorityServer server, ServedRecords records) {
    this.folder = folder;
    this.server = server;
    this.records = records;
  }

  /** {@return its folder} */
  public AuthorityFolder folder() {
    return folder;
  }

  /** {@return the address of its directory, which clients are given} */
  public String directory() {
    return server.directory();
  }

  /** {@return where it listens} */
  public InetSocketAddress address() {
    return server.address();
  }

  /**
   * Waits while it can put things on record.
   *
   * @return why it can't any more; nothing where this thread was interrupted
   */
  public Optional<SymbolonException> untilItEnds() {
    CountDownLatch never = new CountDownLatch(1);
    try {
      while (records.records().end().isEmpty()) {
        boolean unused = never.await(1, TimeUnit.SECONDS);
      }
      return records.records().end().map(e -> e.restated("The authority no longer answers."));
    } catch (InterruptedException e) {
      return Optional.empty();
    }
  }

  @Override
  public void close() {
    server.close();
    records.close();
  }
}
