// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.protocol;

import java.util.Arrays;
import java.util.Optional;

/** The types of problems that the protocol has (RFC 8555, 6.7; RFC 9773, 7.4). */
public enum ProblemType {
  /** There is no such account. */
  ACCOUNT_DOES_NOT_EXIST("accountDoesNotExist", 400),
  /** Another order has replaced that certificate. */
  ALREADY_REPLACED("alreadyReplaced", 409),
  /** The certificate is revoked already. */
  ALREADY_REVOKED("alreadyRevoked", 400),
  /** The request for the certificate can't be used. */
  BAD_CSR("badCSR", 400),
  /** The nonce is unknown, used or too old. */
  BAD_NONCE("badNonce", 400),
  /** The key is not good enough. */
  BAD_PUBLIC_KEY("badPublicKey", 400),
  /** There is no such reason to revoke. */
  BAD_REVOCATION_REASON("badRevocationReason", 400),
  /** Signatures of this kind are not taken. */
  BAD_SIGNATURE_ALGORITHM("badSignatureAlgorithm", 400),
  /** A record in the DNS forbids it (RFC 8659). */
  CAA("caa", 403),
  /** Several problems at once. */
  COMPOUND("compound", 400),
  /** The host could not be reached. */
  CONNECTION("connection", 400),
  /** The DNS did not answer as it should. */
  DNS("dns", 400),
  /** The account must be bound to one that the authority knows. */
  EXTERNAL_ACCOUNT_REQUIRED("externalAccountRequired", 403),
  /** What the host showed is not what was wanted. */
  INCORRECT_RESPONSE("incorrectResponse", 403),
  /** The contact can't be used. */
  INVALID_CONTACT("invalidContact", 400),
  /** The message was not understood. */
  MALFORMED("malformed", 400),
  /** The order is not ready to be finalized. */
  ORDER_NOT_READY("orderNotReady", 403),
  /** Too many requests. */
  RATE_LIMITED("rateLimited", 429),
  /** A name that the authority will not sign for. */
  REJECTED_IDENTIFIER("rejectedIdentifier", 403),
  /** The authority is broken. */
  SERVER_INTERNAL("serverInternal", 500),
  /** TLS with the host failed. */
  TLS("tls", 400),
  /** The account may not do this. */
  UNAUTHORIZED("unauthorized", 403),
  /** Contacts of this kind are not taken. */
  UNSUPPORTED_CONTACT("unsupportedContact", 400),
  /** Names of this kind are not taken. */
  UNSUPPORTED_IDENTIFIER("unsupportedIdentifier", 400),
  /** Somebody must go to a page and do something there. */
  USER_ACTION_REQUIRED("userActionRequired", 403);

  private static final String BEGINNING = "urn:ietf:params:acme:error:";

  private final String word;
  private final int status;

  ProblemType(String word, int status) {
    this.word = word;
    this.status = status;
  }

  /** {@return its name in documents} */
  public String urn() {
    return BEGINNING + word;
  }

  /** {@return its last word} */
  public String word() {
    return word;
  }

  /** {@return the status of an answer with it} */
  public int status() {
    return status;
  }

  /**
   * {@return the type with this name, if the protocol has it}
   *
   * @param urn the name
   */
  public static Optional<ProblemType> of(String urn) {
    return Arrays.stream(values()).filter(one -> one.urn().equals(urn)).findFirst();
  }
}
