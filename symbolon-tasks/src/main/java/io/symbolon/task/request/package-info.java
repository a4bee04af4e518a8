/** Asking an authority for a certificate. */
@NullMarked
package io.symbolon.task.request;

import org.jspecify.annotations.NullMarked;
