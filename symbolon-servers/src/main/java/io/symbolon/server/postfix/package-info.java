// SPDX-License-Identifier: Apache-2.0
/** The services of a Postfix, which stand in master.cf. */
@NullMarked
package io.symbolon.server.postfix;

import org.jspecify.annotations.NullMarked;
