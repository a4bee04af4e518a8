/** The JSON documents of the commands, as records: what stands in them, in this order. */
@NullMarked
package io.symbolon.cli.document;

import org.jspecify.annotations.NullMarked;
