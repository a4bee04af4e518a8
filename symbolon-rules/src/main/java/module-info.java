// SPDX-License-Identifier: Apache-2.0
/** Reads the rules of those who receive certificate signing requests. */
module io.symbolon.rules {
  requires transitive io.symbolon.core;
  requires org.yaml.snakeyaml;
  requires static org.jspecify;

  exports io.symbolon.rules;
}
