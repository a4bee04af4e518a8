// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.configure.ClientChange;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import java.util.List;
import java.util.Optional;

/**
 * What came of setting up a client.
 *
 * @param written what was written; nothing where it was only planned, or refused
 * @param findings everything that is to be said
 */
public record ClientReport(
    ClientChange change, Optional<List<WrittenItem>> written, List<Finding> findings) {}
