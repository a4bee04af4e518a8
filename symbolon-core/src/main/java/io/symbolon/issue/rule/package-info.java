// SPDX-License-Identifier: Apache-2.0
/** What an authority asks of a request before it signs it. */
@NullMarked
package io.symbolon.issue.rule;

import org.jspecify.annotations.NullMarked;
