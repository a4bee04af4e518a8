// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.result.SealPassword;
import java.util.List;

/**
 * An authority that was founded.
 *
 * @param seal the password of its key, and where it is
 * @param findings what is to be said
 */
public record FoundReport(AuthorityFolder folder, SealPassword seal, List<Finding> findings) {}
