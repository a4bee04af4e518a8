/** What an administrator should know, as data. */
@NullMarked
package io.symbolon.finding;

import org.jspecify.annotations.NullMarked;
