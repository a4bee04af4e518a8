// SPDX-License-Identifier: Apache-2.0
/** The files that a server is given: chains, keys, stores and their passwords. */
@NullMarked
package io.symbolon.server.files;

import org.jspecify.annotations.NullMarked;
