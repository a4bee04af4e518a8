// SPDX-License-Identifier: Apache-2.0
/** Everything that ends, soonest first. */
@NullMarked
package io.symbolon.due;

import org.jspecify.annotations.NullMarked;
