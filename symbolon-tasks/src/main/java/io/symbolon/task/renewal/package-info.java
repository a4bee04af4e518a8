// SPDX-License-Identifier: Apache-2.0
/** The job of renewing a certificate that an account obtained, as it outlives the run. */
@org.jspecify.annotations.NullMarked
package io.symbolon.task.renewal;
