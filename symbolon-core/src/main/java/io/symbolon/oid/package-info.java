// SPDX-License-Identifier: Apache-2.0
/** Object identifiers (X.660), and those that keys, certificates and stores have in them. */
@NullMarked
package io.symbolon.oid;

import org.jspecify.annotations.NullMarked;
