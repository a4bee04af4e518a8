// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.remedy.Action;
import java.util.Optional;

/**
 * What to do next.
 *
 * @param action what Symbolon can do; nothing where the step is one for people
 * @param why what it gives, or what to do, a sentence
 */
public record NextStep(Optional<Action> action, String why) {}
