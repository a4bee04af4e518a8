/** The command line: parses options, calls the library, prints. */
module io.symbolon.cli {
  requires com.fasterxml.jackson.annotation;
  requires com.fasterxml.jackson.databind;
  requires com.fasterxml.jackson.datatype.jdk8;
  requires org.apache.commons.cli;
  requires io.symbolon.acme;
  requires io.symbolon.core;
  requires io.symbolon.mail;
  requires io.symbolon.rules;
  requires io.symbolon.servers;
  requires io.symbolon.task;
  requires static org.jspecify;

  exports io.symbolon.cli.story;

  uses io.symbolon.cli.story.Story;

  // The documents are records; Jackson reads their parts.
  opens io.symbolon.cli.document to
      com.fasterxml.jackson.databind;
}
