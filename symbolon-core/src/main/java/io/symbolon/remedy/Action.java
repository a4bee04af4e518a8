// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

import java.nio.file.Path;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * One thing to do: a task, the files (or addresses) it is done with, and what else it is given.
 * What is not known, such as the name of a file that has still to come, is left open for whoever
 * does it.
 *
 * @param task what to do
 * @param on the files or addresses it is done with; empty where they are not known or not needed
 * @param inputs what else is given; an empty list where the value is not known, or none is needed
 */
public record Action(Task task, List<String> on, Map<Input, List<String>> inputs) {
  /** Copies the lists. */
  public Action {
    Objects.requireNonNull(task, "task");
    on = List.copyOf(on);
    Map<Input, List<String>> copy = new EnumMap<>(Input.class);
    inputs.forEach((input, values) -> copy.put(input, List.copyOf(values)));
    inputs = java.util.Collections.unmodifiableMap(copy);
  }

  /**
   * {@return a task with files that are not known}
   *
   * @param task what to do
   */
  public static Action of(Task task) {
    return new Action(task, List.of(), Map.of());
  }

  /**
   * {@return a task with these files}
   *
   * @param task what to do
   */
  public static Action of(Task task, Collection<Path> files) {
    return new Action(task, files.stream().map(Path::toString).toList(), Map.of());
  }

  /**
   * {@return a task with this file}
   *
   * @param task what to do
   */
  public static Action of(Task task, Path file) {
    return of(task, List.of(file));
  }

  /**
   * {@return what was asked for once more, with these added}
   *
   * @param added what is added
   */
  public static Action again(Input... added) {
    Action action = of(Task.AGAIN);
    for (Input input : added) {
      action = action.with(input);
    }
    return action;
  }

  /**
   * With an input whose value is not known here, or that needs none; or with these values.
   *
   * @return a changed copy
   */
  public Action with(Input input, String... values) {
    Map<Input, List<String>> more = new EnumMap<>(Input.class);
    more.putAll(inputs);
    more.put(input, List.of(values));
    return new Action(task, on, more);
  }
}
