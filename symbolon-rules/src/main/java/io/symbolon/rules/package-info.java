// SPDX-License-Identifier: Apache-2.0
/** The rules of those who receive certificate signing requests, from YAML. */
@NullMarked
package io.symbolon.rules;

import org.jspecify.annotations.NullMarked;
