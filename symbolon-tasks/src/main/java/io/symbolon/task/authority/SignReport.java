// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.finding.Finding;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.Certificate;
import java.util.List;

/**
 * A certificate that was signed.
 *
 * @param folder the folder of the authority, where it is on record
 * @param result where it went
 * @param findings what is to be said
 */
public record SignReport(
    Certificate certificate,
    AuthorityFolder folder,
    WrittenResult result,
    List<Finding> findings) {}
