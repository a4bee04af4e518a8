// SPDX-License-Identifier: Apache-2.0
/** Settings files as they are, octet for octet, with positions, and edits at these. */
@NullMarked
package io.symbolon.lossless;

import org.jspecify.annotations.NullMarked;
