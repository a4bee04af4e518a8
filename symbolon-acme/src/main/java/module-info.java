// SPDX-License-Identifier: Apache-2.0
/** Orders certificates over RFC 8555, and answers it for an authority of one's own. */
@SuppressWarnings("module") // what rests on it is built after it
module io.symbolon.acme {
  requires transitive io.symbolon.core;
  requires transitive java.net.http;
  requires com.zaxxer.hikari;
  requires java.sql;
  requires com.fasterxml.jackson.databind;
  requires jdk.httpserver;
  requires org.dnsjava;
  requires org.jose4j;
  requires org.slf4j;
  requires static org.jspecify;

  exports io.symbolon.acme;
  exports io.symbolon.acme.answer;
  exports io.symbolon.acme.folder;
  exports io.symbolon.acme.proof;
  exports io.symbolon.acme.protocol;

  // Shared with what rests on it, and not promised.
  exports io.symbolon.acme.beside to
      io.symbolon.task;
  exports io.symbolon.acme.records to
      io.symbolon.benchmarks,
      io.symbolon.task;
  exports io.symbolon.acme.wire to
      io.symbolon.benchmarks,
      io.symbolon.task;

  provides io.symbolon.issue.record.IssueRecordsOpener with
      io.symbolon.acme.records.IssueTablesOpener;
}
