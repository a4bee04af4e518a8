// SPDX-License-Identifier: Apache-2.0
/** Invented programs with a TLS section each, which read their files with nothing but the JDK. */
@NullMarked
package io.symbolon.demo.standin;

import org.jspecify.annotations.NullMarked;
