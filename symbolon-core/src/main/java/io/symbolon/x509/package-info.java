/** Names, extensions, certificates, requests and revocation lists (RFC 5280): read and built. */
@NullMarked
package io.symbolon.x509;

import org.jspecify.annotations.NullMarked;
