// SPDX-License-Identifier: Apache-2.0
/** The commands order and renew. */
@NullMarked
package io.symbolon.cli.order;

import org.jspecify.annotations.NullMarked;
