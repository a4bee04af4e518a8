// SPDX-License-Identifier: Apache-2.0
/** What a user does, as jobs that any program can give. */
@SuppressWarnings("module") // the command line is built after this module
module io.symbolon.task {
  requires transitive io.symbolon.core;
  requires transitive io.symbolon.servers;
  requires transitive io.symbolon.acme;
  requires io.symbolon.mail;
  requires io.symbolon.rules;
  requires com.fasterxml.jackson.annotation;
  requires com.fasterxml.jackson.databind;
  requires static org.jspecify;

  exports io.symbolon.task;
  exports io.symbolon.task.authority;
  exports io.symbolon.task.compare;
  exports io.symbolon.task.configure;
  exports io.symbolon.task.convert;
  exports io.symbolon.task.due;
  exports io.symbolon.task.explain;
  exports io.symbolon.task.join;
  exports io.symbolon.task.order;
  exports io.symbolon.task.place;
  exports io.symbolon.task.probe;
  exports io.symbolon.task.rehearse;
  exports io.symbolon.task.renew;
  exports io.symbolon.task.renewal;
  exports io.symbolon.task.request;
  exports io.symbolon.task.result;
  exports io.symbolon.task.survey;
  exports io.symbolon.task.truststore;
  exports io.symbolon.task.undo;

  // Shared, and not promised.
  exports io.symbolon.task.words to
      io.symbolon.cli;

  // What is stored of a job is a record; Jackson reads and makes its parts.
  opens io.symbolon.task.renewal to
      com.fasterxml.jackson.databind;
  opens io.symbolon.task.place to
      com.fasterxml.jackson.databind;
}
