/** Authorities: signing certificates for internal and test use. */
@NullMarked
package io.symbolon.issue;

import org.jspecify.annotations.NullMarked;
