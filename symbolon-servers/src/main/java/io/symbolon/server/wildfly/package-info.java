// SPDX-License-Identifier: Apache-2.0
/** WildFly, an application server: the stores, managers and contexts of its standalone.xml. */
@NullMarked
package io.symbolon.server.wildfly;

import org.jspecify.annotations.NullMarked;
