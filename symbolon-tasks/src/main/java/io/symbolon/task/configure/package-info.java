/** Reading a server's or a client's settings, changing them, and proving the change. */
@NullMarked
package io.symbolon.task.configure;

import org.jspecify.annotations.NullMarked;
