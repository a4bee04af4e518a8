/** What the demo is found by. */
@NullMarked
package io.symbolon.cli.story;

import org.jspecify.annotations.NullMarked;
