/** What every command shares: its options, its passwords, where its results go. */
@NullMarked
package io.symbolon.cli.frame;

import org.jspecify.annotations.NullMarked;
