// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.attribute.FileTime;

/**
 * An earlier version that is brought back.
 *
 * @param rights what it had
 * @param changed when it was last changed
 * @param name the name under which it is kept, and is not kept afterwards
 */
record EarlierVersion(Rights rights, FileTime changed, String name) {}
