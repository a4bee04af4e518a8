// SPDX-License-Identifier: Apache-2.0
/** What a user does, as jobs that any program can give. */
module io.symbolon.task {
  requires transitive io.symbolon.core;
  requires transitive io.symbolon.servers;
  requires transitive io.symbolon.acme;
  requires com.fasterxml.jackson.annotation;
  requires com.fasterxml.jackson.databind;
  requires static org.jspecify;

  exports io.symbolon.task;
  exports io.symbolon.task.renewal;

  // What is stored of a job is a record; Jackson reads and makes its parts.
  opens io.symbolon.task.renewal to
      com.fasterxml.jackson.databind;
}
