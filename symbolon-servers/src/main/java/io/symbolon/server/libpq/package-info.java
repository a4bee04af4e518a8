// SPDX-License-Identifier: Apache-2.0
/** Clients of PostgreSQL. */
@NullMarked
package io.symbolon.server.libpq;

import org.jspecify.annotations.NullMarked;
