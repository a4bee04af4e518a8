// SPDX-License-Identifier: Apache-2.0
package io.symbolon.failure;

import io.symbolon.remedy.Naming;
import io.symbolon.remedy.Remedy;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * The one failure a caller can act on. It carries a stable {@link #reason()} for programs and three
 * sentences for people: what could not be done, what was seen, and what to do next. None of them
 * ever holds a secret.
 */
public class SymbolonException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** The reason. */
  private final Reason reason;

  /** What could not be done. */
  private final String statement;

  /** What was seen. */
  private final String seen;

  /** What to do next. */
  private final transient @Nullable Remedy remedy; // a copy over a wire has none

  /**
   * A failure.
   *
   * @param reason the stable reason
   * @param statement what could not be done, a sentence
   * @param seen what was seen instead, a sentence
   * @param remedy what to do next, a sentence
   */
  public SymbolonException(Reason reason, String statement, String seen, String remedy) {
    this(reason, statement, seen, Remedy.of(remedy), null);
  }

  /**
   * A failure about which Symbolon itself can do something.
   *
   * @param statement what is so, as a sentence
   * @param seen what was seen, as a sentence
   * @param remedy what to do about it
   */
  public SymbolonException(Reason reason, String statement, String seen, Remedy remedy) {
    this(reason, statement, seen, remedy, null);
  }

  /**
   * A failure with the cause that was met underneath.
   *
   * @param reason the stable reason
   * @param statement what could not be done, a sentence
   * @param seen what was seen instead, a sentence
   * @param remedy what to do next, a sentence
   * @param cause the failure underneath, or null where there is none
   */
  public SymbolonException(
      Reason reason,
      String statement,
      String seen,
      String remedy,
      @org.jspecify.annotations.Nullable Throwable cause) {
    this(reason, statement, seen, Remedy.of(remedy), cause);
  }

  /**
   * A failure with its cause, about which Symbolon itself can do something.
   *
   * @param statement what is so, as a sentence
   * @param seen what was seen, as a sentence
   * @param remedy what to do about it
   * @param cause what caused it
   */
  public SymbolonException(
      Reason reason,
      String statement,
      String seen,
      Remedy remedy,
      @org.jspecify.annotations.Nullable Throwable cause) {
    super(Naming.PLAIN.in(statement + " " + seen + " ") + remedy.advice(), cause);
    this.reason = Objects.requireNonNull(reason, "reason");
    this.statement = Objects.requireNonNull(statement, "statement");
    this.seen = Objects.requireNonNull(seen, "seen");
    this.remedy = Objects.requireNonNull(remedy, "remedy");
  }

  /**
   * Bytes that are not what they should be.
   *
   * @param what the thing that was being read, such as "certificate"
   * @param seen what is wrong with it, a sentence
   * @return the symbolon exception
   */
  public static SymbolonException malformed(String what, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The " + what + " can't be read.",
        seen,
        "Ask for the file again; it may have been cut off or changed on its way.");
  }

  /**
   * {@return a failure of bytes that is due to something underneath}
   *
   * @param what the thing that was being read
   * @param cause the failure underneath; its message is what was seen
   */
  public static SymbolonException malformed(String what, Throwable cause) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The " + what + " can't be read.",
        "The platform says: " + cause.getMessage() + ".",
        "Ask for the file again; it may have been cut off or changed on its way.",
        cause);
  }

  /**
   * {@return the same failure, told of another thing: {@code statement} replaces what could not be
   * done}
   *
   * @param statement what is so, as a sentence
   */
  public SymbolonException restated(String statement) {
    return new SymbolonException(reason, statement, seen, remedy(), this);
  }

  /**
   * {@return the failure of something larger that this one is the reason of}
   *
   * @param larger what could not be done, as a sentence
   * @param more what else to do, behind what is to be done about this one
   */
  public SymbolonException within(String larger, String more) {
    return new SymbolonException(reason, larger, statement + " " + seen, remedy().and(more), this);
  }

  /** {@return what could not be done and what was seen, for the statement of a finding} */
  public String inFull() {
    return statement + " " + seen;
  }

  /** {@return the stable reason, for programs} */
  public Reason reason() {
    return reason;
  }

  /** {@return what could not be done: one sentence} */
  public String statement() {
    return statement(Naming.PLAIN);
  }

  /**
   * {@return the same for one way of using Symbolon}
   *
   * @param naming how inputs are given there
   */
  public String statement(Naming naming) {
    return naming.in(statement);
  }

  /** {@return what was seen instead: one sentence} */
  public String seen() {
    return seen(Naming.PLAIN);
  }

  /**
   * {@return the same for one way of using Symbolon}
   *
   * @param naming how inputs are given there
   */
  public String seen(Naming naming) {
    return naming.in(seen);
  }

  /** {@return what to do next} */
  public Remedy remedy() {
    Remedy known = remedy;
    return known == null ? Remedy.NONE : known;
  }
}
