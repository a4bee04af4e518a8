// SPDX-License-Identifier: Apache-2.0
/** The command that reads and writes servers' TLS settings. */
@NullMarked
package io.symbolon.cli.configure;

import org.jspecify.annotations.NullMarked;
