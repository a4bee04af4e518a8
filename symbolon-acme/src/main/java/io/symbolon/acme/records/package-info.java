// SPDX-License-Identifier: Apache-2.0
/** What an authority that answers RFC 8555 has on record, in a database. */
@NullMarked
package io.symbolon.acme.records;

import org.jspecify.annotations.NullMarked;
