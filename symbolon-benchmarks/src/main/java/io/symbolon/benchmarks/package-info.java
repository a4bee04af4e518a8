/** Measurements beside the platform's own classes, on the same work in one run. */
@NullMarked
package io.symbolon.benchmarks;

import org.jspecify.annotations.NullMarked;
