// SPDX-License-Identifier: Apache-2.0
/** Looks into saved mails for what is attached to them. */
module io.symbolon.mail {
  requires transitive io.symbolon.core;
  requires apache.mime4j.core;
  requires apache.mime4j.dom;
  requires static org.jspecify;

  exports io.symbolon.mail;
}
