/** All of the job's computation: reading, pairing, packing and proving keys and certificates. */
@SuppressWarnings("module") // the command line is built after this module
module io.symbolon.core {
  requires org.slf4j;
  requires static transitive org.jspecify;

  // What a program that embeds Symbolon needs; it begins with the first.
  exports io.symbolon;
  exports io.symbolon.failure;
  exports io.symbolon.finding;
  exports io.symbolon.remedy;
  exports io.symbolon.format;
  exports io.symbolon.limit;
  exports io.symbolon.oid;
  exports io.symbolon.seal;
  exports io.symbolon.key;
  exports io.symbolon.x509;
  exports io.symbolon.entry;
  exports io.symbolon.chain;
  exports io.symbolon.survey;
  exports io.symbolon.compare;
  exports io.symbolon.join;
  exports io.symbolon.convert;
  exports io.symbolon.issue;
  exports io.symbolon.issue.byhand;
  exports io.symbolon.issue.record;
  exports io.symbolon.issue.rule;
  exports io.symbolon.party;
  exports io.symbolon.explain;
  exports io.symbolon.tls;
  exports io.symbolon.rehearse;
  exports io.symbolon.probe;
  exports io.symbolon.due;
  exports io.symbolon.file;
  exports io.symbolon.program;

  uses io.symbolon.issue.record.IssueRecordsOpener;

  // How octets are read and written, and text for terminals: for Symbolon's own parts.
  exports io.symbolon.der to
      io.symbolon.acme,
      io.symbolon.cli,
      io.symbolon.demo,
      io.symbolon.rules,
      io.symbolon.task;
  exports io.symbolon.pem to
      io.symbolon.acme,
      io.symbolon.cli,
      io.symbolon.demo,
      io.symbolon.task;
  exports io.symbolon.text to
      io.symbolon.acme,
      io.symbolon.cli,
      io.symbolon.demo,
      io.symbolon.rules,
      io.symbolon.servers,
      io.symbolon.task;
}
