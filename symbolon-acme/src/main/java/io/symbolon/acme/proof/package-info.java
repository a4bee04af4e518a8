// SPDX-License-Identifier: Apache-2.0
/** Proofs that a host is under one's control. */
@NullMarked
package io.symbolon.acme.proof;

import org.jspecify.annotations.NullMarked;
