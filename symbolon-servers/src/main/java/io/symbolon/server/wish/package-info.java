// SPDX-License-Identifier: Apache-2.0
/** What is wanted of a server or a client, and which place is meant. */
@NullMarked
package io.symbolon.server.wish;

import org.jspecify.annotations.NullMarked;
