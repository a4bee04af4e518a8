// SPDX-License-Identifier: Apache-2.0
/** A small service on Spring Boot. */
@NullMarked
package io.symbolon.sample;

import org.jspecify.annotations.NullMarked;
