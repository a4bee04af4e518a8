// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.protocol;

import java.util.List;
import java.util.Optional;

/**
 * What went wrong, as the other side says it (RFC 9457, RFC 8555, 6.7).
 *
 * @param type its type, where the protocol has it
 * @param name the name of its type as it was sent; empty where none was
 * @param detail what is said for people
 * @param identifier the name that it is about
 * @param instance the page where something must be done
 * @param parts the problems it is made of
 */
public record Problem(
    Optional<ProblemType> type,
    String name,
    String detail,
    int status,
    Optional<String> identifier,
    Optional<String> instance,
    List<Problem> parts) {

  /** Copies the parts. */
  public Problem {
    parts = List.copyOf(parts);
  }

  /**
   * {@return a problem of a type}
   *
   * @param detail what is said for people
   */
  public static Problem of(ProblemType type, String detail) {
    return new Problem(
        Optional.of(type),
        type.urn(),
        detail,
        type.status(),
        Optional.empty(),
        Optional.empty(),
        List.of());
  }

  /** {@return the same about one name} */
  public Problem about(String name) {
    return new Problem(type, this.name, detail, status, Optional.of(name), instance, parts);
  }

  /**
   * {@return the same with another status}
   *
   * @param code the status
   */
  public Problem withStatus(int code) {
    return new Problem(type, name, detail, code, identifier, instance, parts);
  }

  /** {@return the same with a page where something must be done} */
  public Problem withInstance(String page) {
    return new Problem(type, name, detail, status, identifier, Optional.of(page), parts);
  }

  /**
   * {@return whether it is of a type}
   *
   * @param other the type
   */
  public boolean is(ProblemType other) {
    return type.filter(one -> one == other).isPresent();
  }
}
