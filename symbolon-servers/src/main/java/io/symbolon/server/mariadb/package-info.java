// SPDX-License-Identifier: Apache-2.0
/** The accounts of a MariaDB, which say whose certificate they want. */
@NullMarked
package io.symbolon.server.mariadb;

import org.jspecify.annotations.NullMarked;
