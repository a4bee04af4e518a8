// SPDX-License-Identifier: Apache-2.0
/** Apache httpd. */
@NullMarked
package io.symbolon.server.httpd;

import org.jspecify.annotations.NullMarked;
