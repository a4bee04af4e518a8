/** Reading any file, finding what belongs together, and saying what is wrong with it. */
@NullMarked
package io.symbolon.survey;

import org.jspecify.annotations.NullMarked;
