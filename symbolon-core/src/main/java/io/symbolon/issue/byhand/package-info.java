// SPDX-License-Identifier: Apache-2.0
/** Renewal where a person carries the request to an authority and the answer back. */
@NullMarked
package io.symbolon.issue.byhand;

import org.jspecify.annotations.NullMarked;
