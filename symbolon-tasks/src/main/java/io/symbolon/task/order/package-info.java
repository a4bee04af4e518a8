/** Ordering certificates from an authority that answers by itself (RFC 8555). */
@NullMarked
package io.symbolon.task.order;

import org.jspecify.annotations.NullMarked;
