// SPDX-License-Identifier: Apache-2.0
/** Settings files with what they take in, and changes of their text. */
@NullMarked
package io.symbolon.server.text;

import org.jspecify.annotations.NullMarked;
