// SPDX-License-Identifier: Apache-2.0
/** What both sides of RFC 8555 speak of: account keys, identifiers, and problems. */
@NullMarked
package io.symbolon.acme.protocol;

import org.jspecify.annotations.NullMarked;
