// SPDX-License-Identifier: Apache-2.0
/** Programs that open connections and take their settings from a file of names and values. */
@NullMarked
package io.symbolon.server.clients;

import org.jspecify.annotations.NullMarked;
