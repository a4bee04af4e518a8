/** Running a private authority: founding it, signing, issuing, revoking, and answering orders. */
@NullMarked
package io.symbolon.task.authority;

import org.jspecify.annotations.NullMarked;
