// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import java.util.List;

/** The document of authority records. */
public record RecordsDocument(
    String command,
    @JsonPropertyDescription("The folder of the authority.") String path,
    @JsonPropertyDescription(
            "Where its records are: files, folder (a database in the folder) or the address of a"
                + " database, without its password.")
        String place,
    @JsonPropertyDescription("Whether they were moved there just now.") boolean moved,
    @JsonPropertyDescription("How many certificates are on record.") long issued,
    @JsonPropertyDescription("How many of them are revoked.") long revoked,
    @JsonPropertyDescription(
            "Whether every entry follows from the one before it, and the authority has signed the"
                + " last.")
        boolean whole,
    List<FindingDocument> findings) {}
