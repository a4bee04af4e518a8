/** The command survey. */
@NullMarked
package io.symbolon.cli.survey;

import org.jspecify.annotations.NullMarked;
