/** All of the job's computation: reading, pairing, packing and proving keys and certificates. */
module io.symbolon.core {
  requires org.slf4j;
  requires static transitive org.jspecify;

  exports io.symbolon;
  exports io.symbolon.remedy;
  exports io.symbolon.failure;
  exports io.symbolon.limit;
  exports io.symbolon.text;
  exports io.symbolon.finding;
  exports io.symbolon.format;
  exports io.symbolon.der;
  exports io.symbolon.pem;
  exports io.symbolon.seal;
  exports io.symbolon.key;
  exports io.symbolon.x509;
  exports io.symbolon.store;
  exports io.symbolon.chain;
  exports io.symbolon.survey;
  exports io.symbolon.join;
  exports io.symbolon.convert;
  exports io.symbolon.issue;
  exports io.symbolon.party;
  exports io.symbolon.explain;
  exports io.symbolon.tls;
  exports io.symbolon.rehearse;
  exports io.symbolon.probe;
  exports io.symbolon.file;
}
