/** The formats of files, and what each can hold. */
@NullMarked
package io.symbolon.format;

import org.jspecify.annotations.NullMarked;
