// SPDX-License-Identifier: Apache-2.0
/** Orders certificates from an authority that answers RFC 8555. */
@NullMarked
package io.symbolon.acme;

import org.jspecify.annotations.NullMarked;
