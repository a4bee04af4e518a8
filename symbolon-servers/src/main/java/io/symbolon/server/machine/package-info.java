// SPDX-License-Identifier: Apache-2.0
/**
 * The machine that servers are on: its files as they are or would be, its programs and processes.
 */
@NullMarked
package io.symbolon.server.machine;

import org.jspecify.annotations.NullMarked;
