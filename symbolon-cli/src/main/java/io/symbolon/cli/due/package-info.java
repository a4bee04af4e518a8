// SPDX-License-Identifier: Apache-2.0
/** The command due. */
@NullMarked
package io.symbolon.cli.due;

import org.jspecify.annotations.NullMarked;
