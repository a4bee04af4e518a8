// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import java.io.PrintStream;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** What can be done with an authority: the first argument of {@code symbolon authority}. */
public enum AuthorityAction implements CommandAction {
  FOUND("Founds a new authority in its own folder: a root, or with --under an intermediate"),
  SIGN("Signs a request: the certificate is written, and recorded in the authority's folder"),
  ISSUE("Issues a credential with its key, or many from a list; or a self-signed one"),
  REVOKE("Revokes certificates and writes a new revocation list"),
  SERVE("Answers the automatic protocol (RFC 8555) for an authority, until it is stopped"),
  RECORDS("Tells where the records of an authority are and checks them, or moves them"),
  LIST("Lists what an authority has issued: to whom, until when, revoked or not");

  private final String purpose;

  AuthorityAction(String purpose) {
    this.purpose = purpose;
  }

  public static Optional<AuthorityAction> find(String word) {
    return Arrays.stream(values()).filter(action -> action.word().equals(word)).findFirst();
  }

  private String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  @Override
  public String words() {
    return "authority " + word();
  }

  @Override
  public String purpose() {
    return purpose;
  }

  @Override
  public CommandSpec spec() {
    return switch (this) {
      case FOUND -> AuthorityFound.spec();
      case SIGN -> AuthoritySign.spec();
      case ISSUE -> AuthorityIssue.spec();
      case REVOKE -> AuthorityRevoke.spec();
      case SERVE -> AuthorityServe.spec();
      case RECORDS -> AuthorityRecords.spec();
      case LIST -> AuthorityList.spec();
    };
  }

  @Override
  public int run(Invocation invocation, GivenOptions given) {
    return switch (this) {
      case FOUND -> AuthorityFound.run(invocation, given);
      case SIGN -> AuthoritySign.run(invocation, given);
      case ISSUE -> AuthorityIssue.run(invocation, given);
      case REVOKE -> AuthorityRevoke.run(invocation, given);
      case SERVE -> AuthorityServe.run(invocation, given);
      case RECORDS -> AuthorityRecords.run(invocation, given);
      case LIST -> AuthorityList.run(invocation, given);
    };
  }

  /** The overview of the actions. */
  public static void help(PrintStream out, CommandAction authority) {
    out.println("symbolon authority ACTION [options]");
    out.println();
    out.println(authority.purpose() + ".");
    out.println();
    for (AuthorityAction action : values()) {
      out.printf("  %-8s %s%n", action.word(), action.purpose());
    }
    out.println();
    out.println("Each action tells its options with symbolon authority ACTION --help.");
  }
}
