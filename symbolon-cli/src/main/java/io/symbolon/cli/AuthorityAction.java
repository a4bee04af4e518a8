package io.symbolon.cli;

import java.io.PrintStream;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** What can be done with an authority: the first argument of {@code symbolon authority}. */
enum AuthorityAction implements Work {
  FOUND("a new authority in a folder of its own: a root, or with --under an intermediate"),
  SIGN("a certificate for somebody's request, and on record in the authority's folder"),
  ISSUE("key, certificate and chain as one credential, or many from a list; or a self-signed one"),
  REVOKE("a new revocation list, with certificates that are good no longer"),
  LIST("what an authority has issued: to whom, until when, revoked or not");

  private final String gives;

  AuthorityAction(String gives) {
    this.gives = gives;
  }

  static Optional<AuthorityAction> find(String word) {
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
  public String gives() {
    return gives;
  }

  @Override
  public CommandSpec spec() {
    return switch (this) {
      case FOUND -> AuthorityFound.spec();
      case SIGN -> AuthoritySign.spec();
      case ISSUE -> AuthorityIssue.spec();
      case REVOKE -> AuthorityRevoke.spec();
      case LIST -> AuthorityList.spec();
    };
  }

  @Override
  public int run(Invocation invocation) {
    return switch (this) {
      case FOUND -> AuthorityFound.run(invocation);
      case SIGN -> AuthoritySign.run(invocation);
      case ISSUE -> AuthorityIssue.run(invocation);
      case REVOKE -> AuthorityRevoke.run(invocation);
      case LIST -> AuthorityList.run(invocation);
    };
  }

  /** The overview of the actions. */
  static void help(PrintStream out) {
    out.println("symbolon authority ACTION [options]");
    out.println();
    out.println("Gives " + Command.AUTHORITY.gives() + ".");
    out.println();
    for (AuthorityAction action : values()) {
      out.printf("  %-8s %s%n", action.word(), action.gives());
    }
    out.println();
    out.println("Each action tells its options with symbolon authority ACTION --help.");
  }
}
