// SPDX-License-Identifier: Apache-2.0
/** Servers that are described by a file instead of programmed. */
@NullMarked
package io.symbolon.describe;

import org.jspecify.annotations.NullMarked;
