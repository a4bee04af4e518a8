/** What files hold, and what is wrong with it. */
@NullMarked
package io.symbolon.task.survey;

import org.jspecify.annotations.NullMarked;
