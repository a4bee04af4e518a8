// SPDX-License-Identifier: Apache-2.0
/** Whom all programs of a Java trust. */
@NullMarked
package io.symbolon.server.javaroots;

import org.jspecify.annotations.NullMarked;
