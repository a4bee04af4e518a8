/** Where a certificate that an account obtained is shown: kept on record, to be renewed there. */
@org.jspecify.annotations.NullMarked
package io.symbolon.task.place;
