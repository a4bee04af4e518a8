// SPDX-License-Identifier: Apache-2.0
/** Java programs that open connections. */
@NullMarked
package io.symbolon.server.javaprogram;

import org.jspecify.annotations.NullMarked;
