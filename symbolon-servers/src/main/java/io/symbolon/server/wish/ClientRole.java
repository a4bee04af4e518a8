// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.x509.Certificate;

/**
 * Whom a server takes the holder of a certificate for.
 *
 * @param role the role or account of the server, as the server has it
 * @param certificate the client's certificate; any later one with the same subject counts as well
 */
public record ClientRole(String role, Certificate certificate) {}
