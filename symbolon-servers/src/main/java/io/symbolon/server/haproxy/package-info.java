// SPDX-License-Identifier: Apache-2.0
/** HAProxy: its bind lines, in frontends and listen sections. */
@NullMarked
package io.symbolon.server.haproxy;

import org.jspecify.annotations.NullMarked;
