// SPDX-License-Identifier: Apache-2.0
/** Artemis, a broker of messages: the acceptors of its broker.xml. */
@NullMarked
package io.symbolon.server.artemis;

import org.jspecify.annotations.NullMarked;
