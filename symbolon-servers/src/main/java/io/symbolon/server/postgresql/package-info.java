// SPDX-License-Identifier: Apache-2.0
/** PostgreSQL. */
@NullMarked
package io.symbolon.server.postgresql;

import org.jspecify.annotations.NullMarked;
