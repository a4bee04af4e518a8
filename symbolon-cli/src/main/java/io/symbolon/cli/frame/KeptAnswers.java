// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a person has answered, in the order of the questions, under the ids of these. An answer that
 * was taken back is remembered, and stands in brackets when its question comes again.
 */
public final class KeptAnswers {
  private final Map<String, String> answers = new LinkedHashMap<>();
  private final Map<String, String> remembered = new LinkedHashMap<>();

  /** The answers that count, in their order. */
  public Map<String, String> all() {
    return new LinkedHashMap<>(answers);
  }

  public boolean has(String id) {
    return answers.containsKey(id);
  }

  /** An answer; empty where there is none. */
  public String of(String id) {
    return answers.getOrDefault(id, "");
  }

  /** The answers that are not empty to questions whose ids begin so. */
  public List<String> startingWith(String beginning) {
    return answers.entrySet().stream()
        .filter(answer -> answer.getKey().startsWith(beginning) && !answer.getValue().isEmpty())
        .map(Map.Entry::getValue)
        .toList();
  }

  /** How many questions whose ids begin so were answered. */
  public int count(String beginning) {
    return (int) answers.keySet().stream().filter(id -> id.startsWith(beginning)).count();
  }

  /** What was answered before it was taken back. */
  Optional<String> remembered(String id) {
    return Optional.ofNullable(remembered.get(id));
  }

  public void add(String id, String text) {
    answers.put(id, text);
    remembered.put(id, text);
  }

  /** Takes the last answer back; false where there is none. */
  public boolean takeBack() {
    List<String> ids = List.copyOf(answers.keySet());
    if (ids.isEmpty()) {
      return false;
    }
    answers.remove(ids.get(ids.size() - 1));
    return true;
  }

  public void takeAllBack() {
    answers.clear();
  }

  /** The same with one more answer, to be judged. */
  public KeptAnswers with(String id, String text) {
    KeptAnswers more = new KeptAnswers();
    more.answers.putAll(answers);
    more.answers.put(id, text);
    return more;
  }
}
