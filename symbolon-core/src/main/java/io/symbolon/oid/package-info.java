// SPDX-License-Identifier: Apache-2.0
/** Object identifiers (X.660). */
@NullMarked
package io.symbolon.oid;

import org.jspecify.annotations.NullMarked;
