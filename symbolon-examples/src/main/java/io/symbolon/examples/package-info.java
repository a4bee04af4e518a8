/** Runnable examples over the public API, one class each. */
@NullMarked
package io.symbolon.examples;

import org.jspecify.annotations.NullMarked;
