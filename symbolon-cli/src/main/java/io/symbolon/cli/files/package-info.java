/** The commands that make files out of files: join, truststore, convert, undo. */
@NullMarked
package io.symbolon.cli.files;

import org.jspecify.annotations.NullMarked;
