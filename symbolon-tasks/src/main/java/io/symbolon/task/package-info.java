// SPDX-License-Identifier: Apache-2.0
/** What jobs have in common: where their passwords come from. */
@org.jspecify.annotations.NullMarked
package io.symbolon.task;
