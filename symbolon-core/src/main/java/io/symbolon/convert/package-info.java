/**
 * The same content in another format: arranging what files hold, choosing parts of it, saying what
 * a format can't hold, writing it, and proving that what was written reads the same.
 */
@NullMarked
package io.symbolon.convert;

import org.jspecify.annotations.NullMarked;
