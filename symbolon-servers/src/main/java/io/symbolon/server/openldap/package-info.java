// SPDX-License-Identifier: Apache-2.0
/** OpenLDAP, whose settings live in the directory itself and are changed over its own socket. */
@NullMarked
package io.symbolon.server.openldap;

import org.jspecify.annotations.NullMarked;
