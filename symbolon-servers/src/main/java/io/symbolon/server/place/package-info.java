// SPDX-License-Identifier: Apache-2.0
/** What settings say of a place where a server speaks TLS. */
@NullMarked
package io.symbolon.server.place;

import org.jspecify.annotations.NullMarked;
