/** What surrounds a run of the program: streams, environment, terminal, clock. */
@NullMarked
package io.symbolon.cli.session;

import org.jspecify.annotations.NullMarked;
