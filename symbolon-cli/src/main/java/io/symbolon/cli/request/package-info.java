/** The command request. */
@NullMarked
package io.symbolon.cli.request;

import org.jspecify.annotations.NullMarked;
