/** The commands: each parses its options, calls the library, and prints. */
@NullMarked
package io.symbolon.cli;

import org.jspecify.annotations.NullMarked;
