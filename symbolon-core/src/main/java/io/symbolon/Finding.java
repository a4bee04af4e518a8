package io.symbolon;

import java.util.Collection;
import java.util.Objects;

/**
 * One thing an administrator should know.
 *
 * @param id the stable name of this kind of finding, in kebab-case
 * @param level how much it matters
 * @param where the file, entry or host it is about
 * @param statement what was found, in full sentences
 * @param remedy what to do about it, in full sentences; empty where there is nothing to do
 */
public record Finding(String id, Level level, String where, String statement, String remedy) {
  /** Checks that nothing is missing and that the id is kebab-case. */
  public Finding {
    Objects.requireNonNull(level, "level");
    Objects.requireNonNull(where, "where");
    Objects.requireNonNull(statement, "statement");
    Objects.requireNonNull(remedy, "remedy");
    if (!id.matches("[a-z0-9]+(-[a-z0-9]+)*")) {
      throw new IllegalArgumentException("a finding's id is kebab-case, not '" + id + "'");
    }
  }

  /** A finding of level {@link Level#PROBLEM}. */
  public static Finding problem(String id, String where, String statement, String remedy) {
    return new Finding(id, Level.PROBLEM, where, statement, remedy);
  }

  /** A finding of level {@link Level#WARNING}. */
  public static Finding warning(String id, String where, String statement, String remedy) {
    return new Finding(id, Level.WARNING, where, statement, remedy);
  }

  /** A finding of level {@link Level#NOTE}. */
  public static Finding note(String id, String where, String statement, String remedy) {
    return new Finding(id, Level.NOTE, where, statement, remedy);
  }

  /** Whether any of {@code findings} is a problem. */
  public static boolean anyProblem(Collection<Finding> findings) {
    return findings.stream().anyMatch(finding -> finding.level() == Level.PROBLEM);
  }
}
