/** The command compare. */
@NullMarked
package io.symbolon.cli.compare;

import org.jspecify.annotations.NullMarked;
