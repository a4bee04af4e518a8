// SPDX-License-Identifier: Apache-2.0
/** Programs on Spring Boot. */
@NullMarked
package io.symbolon.server.spring;

import org.jspecify.annotations.NullMarked;
