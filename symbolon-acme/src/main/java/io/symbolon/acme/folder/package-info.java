// SPDX-License-Identifier: Apache-2.0
/** The folder of an account: its key, its orders, and how each certificate was obtained. */
@NullMarked
package io.symbolon.acme.folder;

import org.jspecify.annotations.NullMarked;
