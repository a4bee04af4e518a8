/** Textual encodings (RFC 7468), tolerant of what mail and editors do to them. */
@NullMarked
package io.symbolon.pem;

import org.jspecify.annotations.NullMarked;
