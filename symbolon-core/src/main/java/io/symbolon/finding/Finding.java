// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Naming;
import io.symbolon.remedy.Remedy;
import java.util.Collection;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * One thing an administrator should know.
 *
 * @param kind what kind of thing
 * @param level how much it matters here; one of the levels of its kind
 * @param where the file, entry or host it is about
 * @param statement what was found, in full sentences
 * @param remedy what to do about it
 * @param about what it speaks of, as values
 */
public record Finding(
    FindingKind kind, Level level, String where, String statement, Remedy remedy, About about) {
  /** Checks that nothing is missing and that the kind can have this level. */
  public Finding {
    Objects.requireNonNull(where, "where");
    Objects.requireNonNull(statement, "statement");
    Objects.requireNonNull(remedy, "remedy");
    if (!kind.levels().contains(level)) {
      throw new IllegalArgumentException(kind + " is no " + level);
    }
  }

  /**
   * A finding that speaks of nothing that can be told as a value.
   *
   * @param level how much it matters
   * @param where the place to name, such as a file; may be empty
   * @param statement what is so, as a sentence
   * @param remedy what to do about it
   */
  public Finding(FindingKind kind, Level level, String where, String statement, Remedy remedy) {
    this(kind, level, where, statement, remedy, About.nothing());
  }

  /** {@return the same, with what it speaks of} */
  public Finding about(UnaryOperator<About> more) {
    return new Finding(kind, level, where, statement, remedy, more.apply(about));
  }

  /**
   * {@return a finding of the usual level of its kind}
   *
   * @param where the place to name, such as a file; may be empty
   * @param statement what is so, as a sentence
   * @param remedy what to do about it
   */
  public static Finding of(FindingKind kind, String where, String statement, Remedy remedy) {
    return new Finding(kind, kind.level(), where, statement, remedy);
  }

  /**
   * {@return a finding of the usual level of its kind, with advice that is no task of Symbolon's}
   *
   * @param where the place to name, such as a file; may be empty
   * @param statement what is so, as a sentence
   * @param advice what to do, as a sentence
   */
  public static Finding of(FindingKind kind, String where, String statement, String advice) {
    return of(kind, where, statement, Remedy.of(advice));
  }

  /**
   * {@return a finding of a kind that can have several levels}
   *
   * @param level how much it matters
   * @param where the place to name, such as a file; may be empty
   * @param statement what is so, as a sentence
   * @param remedy what to do about it
   */
  public static Finding of(
      FindingKind kind, Level level, String where, String statement, Remedy remedy) {
    return new Finding(kind, level, where, statement, remedy);
  }

  /**
   * {@return the same, with advice that is no task of Symbolon's}
   *
   * @param level how much it matters
   * @param where the place to name, such as a file; may be empty
   * @param statement what is so, as a sentence
   * @param advice what to do, as a sentence
   */
  public static Finding of(
      FindingKind kind, Level level, String where, String statement, String advice) {
    return new Finding(kind, level, where, statement, Remedy.of(advice));
  }

  /**
   * {@return a failure that was met on the way, told as a finding}
   *
   * @param level how much it matters
   */
  public static Finding of(SymbolonException failure, Level level) {
    return new Finding(
        FindingKind.of(failure.reason()), level, "", failure.inFull(), failure.remedy());
  }

  /** What was found, in full sentences. */
  @Override
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

  /** {@return the stable name of its kind} */
  public String id() {
    return kind.id();
  }

  /**
   * {@return whether it is of this kind}
   *
   * @param other another one
   */
  public boolean is(FindingKind other) {
    return kind == other;
  }

  /**
   * {@return whether any of {@code findings} is a problem}
   *
   * @param findings what is to be said
   */
  public static boolean anyProblem(Collection<Finding> findings) {
    return findings.stream().anyMatch(finding -> finding.level() == Level.PROBLEM);
  }

  /** Findings that say the same are equal, whatever values stand beside their sentences. */
  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof Finding finding
        && kind == finding.kind
        && level == finding.level
        && where.equals(finding.where)
        && statement.equals(finding.statement)
        && remedy.equals(finding.remedy);
  }

  @Override
  public int hashCode() {
    return Objects.hash(kind, level, where, statement, remedy);
  }

  /** Its sentences, which are safe to show; the values beside them may not be. */
  @Override
  public String toString() {
    return id() + " (" + level.word() + ") " + where + ": " + statement() + " " + remedy;
  }
}
