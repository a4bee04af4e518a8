// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import java.util.List;
import java.util.Optional;

/**
 * A server whose own way of judging is known, beside Java's. Which there are is data, in the file
 * of the rules; they are compared by their place there.
 */
public final class ServerKind implements Comparable<ServerKind> {
  private final int rank;
  private final String word;
  private final String title;
  private final String depthSetting;
  private final String passwordSetting;
  private final boolean java;

  private ServerKind(int rank, String word, List<String> columns) {
    this.rank = rank;
    this.word = word;
    this.title = columns.get(0);
    this.depthSetting = columns.get(1);
    this.passwordSetting = columns.get(2);
    this.java = columns.get(3).equals("java");
  }

  /** The server of a line of the file. */
  static ServerKind read(int rank, String line) {
    List<String> columns = List.of(line.substring("server ".length()).split("\\|", -1));
    return new ServerKind(
        rank, columns.get(0).strip(), columns.stream().skip(1).map(String::strip).toList());
  }

  /** {@return all of them, in the order of the file} */
  public static List<ServerKind> all() {
    return ServerRules.SHIPPED.servers();
  }

  /**
   * {@return the one with this word}
   *
   * @param word such as {@code nginx}
   */
  public static Optional<ServerKind> named(String word) {
    return all().stream().filter(kind -> kind.word.equals(word)).findFirst();
  }

  /** {@return its name, as its makers write it} */
  public String title() {
    return title;
  }

  /** {@return the word for it in rules and documents} */
  public String word() {
    return word;
  }

  /** {@return whether it judges with Java's own TLS} */
  public boolean isJava() {
    return java;
  }

  /** The setting for chains with many certificates; empty where there is none. */
  String depthSetting() {
    return depthSetting;
  }

  /** The setting for the password of a key; empty where there is none. */
  String passwordSetting() {
    return passwordSetting;
  }

  @Override
  public int compareTo(ServerKind other) {
    return Integer.compare(rank, other.rank);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof ServerKind kind && kind.rank == rank;
  }

  @Override
  public int hashCode() {
    return rank;
  }

  @Override
  public String toString() {
    return word;
  }
}
