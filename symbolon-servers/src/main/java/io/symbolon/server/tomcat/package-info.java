// SPDX-License-Identifier: Apache-2.0
/** Apache Tomcat. */
@NullMarked
package io.symbolon.server.tomcat;

import org.jspecify.annotations.NullMarked;
