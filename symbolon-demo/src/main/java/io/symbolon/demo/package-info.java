/** The whole story on made-up data, with a real server. Nothing else needs what is here. */
@NullMarked
package io.symbolon.demo;

import org.jspecify.annotations.NullMarked;
