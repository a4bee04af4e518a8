// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.Path;
import java.util.Optional;

/**
 * A file that was written.
 *
 * @param path where it lies, links followed
 * @param aside where the file is kept that was there before
 * @param access who may read it
 */
public record WrittenItem(Path path, Optional<Path> aside, Access access) {}
