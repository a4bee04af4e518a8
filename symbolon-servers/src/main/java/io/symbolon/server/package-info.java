// SPDX-License-Identifier: Apache-2.0
/** What a server is: where it lives, where it speaks TLS, what is wanted, and what would change. */
@NullMarked
package io.symbolon.server;

import org.jspecify.annotations.NullMarked;
