/** Requests with rules, and authorities that sign them, for internal and test use. */
@NullMarked
package io.symbolon.issue;

import org.jspecify.annotations.NullMarked;
