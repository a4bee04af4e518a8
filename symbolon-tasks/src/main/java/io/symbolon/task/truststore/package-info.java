/** Making a truststore, or adding to one. */
@NullMarked
package io.symbolon.task.truststore;

import org.jspecify.annotations.NullMarked;
