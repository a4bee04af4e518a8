// SPDX-License-Identifier: Apache-2.0
/** nginx. */
@NullMarked
package io.symbolon.server.nginx;

import org.jspecify.annotations.NullMarked;
