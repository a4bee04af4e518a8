/** Renewing what is due: what an account ordered, and what a person's authority signs. */
@NullMarked
package io.symbolon.task.renew;

import org.jspecify.annotations.NullMarked;
