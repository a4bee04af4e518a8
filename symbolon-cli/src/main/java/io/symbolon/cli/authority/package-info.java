/** The command authority and its actions. */
@NullMarked
package io.symbolon.cli.authority;

import org.jspecify.annotations.NullMarked;
