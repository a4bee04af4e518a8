// SPDX-License-Identifier: Apache-2.0
/** Answers RFC 8555 for an authority of one's own. */
@NullMarked
package io.symbolon.acme.answer;

import org.jspecify.annotations.NullMarked;
