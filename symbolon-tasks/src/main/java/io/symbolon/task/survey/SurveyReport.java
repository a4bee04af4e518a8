// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.survey;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.survey.Survey;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What files hold, how it fits together, and what is wrong with it.
 *
 * @param survey what was read
 * @param more what is to be said beside it: rules that requests break, the places of passwords
 */
public record SurveyReport(Survey survey, List<Finding> more) {
  /** Copies the list. */
  public SurveyReport {
    more = List.copyOf(more);
  }

  /** {@return everything that is to be said} */
  public List<Finding> findings() {
    return Stream.concat(survey.findings().stream(), more.stream()).toList();
  }

  /** {@return the failure of the one file that was named, where it holds nothing beside it} */
  public Optional<SymbolonException> onlyFailure() {
    boolean only =
        survey.failures().size() == 1
            && survey.files().size() <= 1
            && survey.files().stream().allMatch(file -> file.isEmpty());
    return only ? Optional.of(survey.failures().get(0)) : Optional.empty();
  }
}
