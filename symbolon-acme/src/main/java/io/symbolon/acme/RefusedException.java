// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** An authority refused something, and said why (RFC 8555, 6.7). */
public final class RefusedException extends SymbolonException {
  private static final long serialVersionUID = 1L;

  /** The last word of the problem's type. */
  private final String type;

  /** From when on it is worth trying again. */
  private final transient Optional<Instant> again;

  private RefusedException(
      String type, Optional<Instant> again, String statement, String seen, String remedy) {
    super(Reason.REFUSED, statement, seen, remedy);
    this.type = type;
    this.again = again;
  }

  static RefusedException of(String statement, Problem problem, Optional<Instant> again) {
    return new RefusedException(
        problem.type().map(ProblemType::word).orElse(problem.name()),
        again,
        statement,
        "The authority says: " + said(problem),
        remedy(problem, again));
  }

  /** {@return the last word of the problem's type, such as {@code rateLimited}} */
  public String type() {
    return type;
  }

  /** {@return from when on it is worth trying again, where the authority says that} */
  public Optional<Instant> again() {
    return again;
  }

  private static String said(Problem problem) {
    List<String> all = new ArrayList<>();
    all.add(one(problem));
    problem.parts().stream().limit(10).forEach(part -> all.add(one(part)));
    return String.join("; ", all);
  }

  private static String one(Problem problem) {
    String type =
        problem
            .type()
            .map(ProblemType::word)
            .orElse(problem.name().isEmpty() ? "status " + problem.status() : problem.name());
    String about = problem.identifier().map(name -> VisibleText.of(name) + ": ").orElse("");
    String detail = problem.detail().isEmpty() ? "" : ": " + VisibleText.of(problem.detail());
    return about + VisibleText.of(type) + detail;
  }

  private static String remedy(Problem problem, Optional<Instant> again) {
    String page =
        problem.instance().map(one -> " Go to " + VisibleText.of(one) + " first.").orElse("");
    String when = again.map(one -> "Try again after " + one + ".").orElse("Try again later.");
    ProblemType type =
        problem.type().orElse(problem.status() >= 500 ? ProblemType.SERVER_INTERNAL : null);
    if (type == null) {
      return "Read what it says; ask whoever runs the authority." + page;
    }
    return switch (type) {
      case ACCOUNT_DOES_NOT_EXIST ->
          "The authority does not know this account. Use another folder for it, and order again.";
      case ALREADY_REPLACED, ALREADY_REVOKED -> "There is nothing left to do.";
      case BAD_CSR -> "Use a key on P-256 or RSA with 2048 bits or more, and no other names.";
      case BAD_NONCE -> "Give the command again; the authority loses its nonces.";
      case BAD_PUBLIC_KEY, BAD_SIGNATURE_ALGORITHM ->
          "Make the account with a key of another kind.";
      case BAD_REVOCATION_REASON -> "Leave the reason out.";
      case CAA ->
          "A CAA record of the domain names other authorities. Change it, or order from one of"
              + " these.";
      case COMPOUND -> "Correct what is reported for each name.";
      case CONNECTION ->
          "The authority could not reach the host. Check its address in the DNS and the firewall, and"
              + " that port 80 (or 443) leads here.";
      case DNS -> "Check the records of the host in the DNS, and its name servers.";
      case EXTERNAL_ACCOUNT_REQUIRED ->
          "Ask whoever runs the authority for a key id and its key, and make the account with them.";
      case INCORRECT_RESPONSE, UNAUTHORIZED ->
          "The authority saw something else at that host than what was shown. Check that its name"
              + " leads to this machine and nothing answers in its place.";
      case INVALID_CONTACT, UNSUPPORTED_CONTACT -> "Give another e-mail address as contact.";
      case MALFORMED -> "The two do not understand each other: report it with this message.";
      case ORDER_NOT_READY -> "Give the command again.";
      case RATE_LIMITED -> "Too much was asked. " + when;
      case REJECTED_IDENTIFIER, UNSUPPORTED_IDENTIFIER ->
          "Leave that name out, or ask whoever runs the authority to allow it.";
      case SERVER_INTERNAL -> "The authority itself is out of order. " + when;
      case TLS ->
          "The authority could not speak TLS with the host. Check what answers at its port.";
      case USER_ACTION_REQUIRED -> "Something must be agreed to first." + page;
    };
  }
}
