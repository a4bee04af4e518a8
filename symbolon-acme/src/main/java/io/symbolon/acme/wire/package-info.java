// SPDX-License-Identifier: Apache-2.0
/** What both sides say over the wire: JSON, signatures, problem documents. */
@NullMarked
package io.symbolon.acme.wire;

import org.jspecify.annotations.NullMarked;
