/** SSLContexts from credentials and trust, and probing a running server. */
@NullMarked
package io.symbolon.tls;

import org.jspecify.annotations.NullMarked;
