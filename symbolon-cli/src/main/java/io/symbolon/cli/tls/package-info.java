/** The commands rehearse, probe and explain. */
@NullMarked
package io.symbolon.cli.tls;

import org.jspecify.annotations.NullMarked;
