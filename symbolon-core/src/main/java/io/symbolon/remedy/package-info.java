/** What to do about something, as data: for people in a sentence, for programs as actions. */
@NullMarked
package io.symbolon.remedy;

import org.jspecify.annotations.NullMarked;
