// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.x509.HostName;

/** The addresses under which an authority answers. */
final class Addresses {
  static final String DIRECTORY = "/directory";
  static final String NONCE = "/nonce";
  static final String ACCOUNTS = "/account";
  static final String ORDERS = "/order";
  static final String PROOFS = "/proof";
  static final String CHALLENGES = "/challenge";
  static final String CERTIFICATES = "/certificate";
  static final String REVOKE = "/revoke";
  static final String KEY = "/key";
  static final String RENEWAL = "/renewal";

  private final String base;

  Addresses(HostName host, int port) {
    this.base = "https://" + host.inUrl() + (port == 443 ? "" : ":" + port);
  }

  String of(String path) {
    return base + path;
  }

  String of(String path, String id) {
    return base + path + "/" + id;
  }

  /** The id in an address of a kind; empty where it is another address. */
  String id(String path, String address) {
    String beginning = base + path + "/";
    return address.startsWith(beginning) ? address.substring(beginning.length()) : "";
  }
}
