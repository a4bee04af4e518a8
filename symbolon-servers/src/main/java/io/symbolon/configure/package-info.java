// SPDX-License-Identifier: Apache-2.0
/** Servers' settings judged with the files they name, changed, checked, reloaded and put back. */
@NullMarked
package io.symbolon.configure;

import org.jspecify.annotations.NullMarked;
