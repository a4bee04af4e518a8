// SPDX-License-Identifier: Apache-2.0
/**
 * Commands beside an authority that answers: its process has the database of the folder open, and
 * lets commands of the same account read and write it over a socket in that folder.
 */
@org.jspecify.annotations.NullMarked
package io.symbolon.acme.beside;
