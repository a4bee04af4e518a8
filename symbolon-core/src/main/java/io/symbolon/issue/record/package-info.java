// SPDX-License-Identifier: Apache-2.0
/** The folder of an authority, and what it keeps of all that it issued and revoked. */
@NullMarked
package io.symbolon.issue.record;

import org.jspecify.annotations.NullMarked;
