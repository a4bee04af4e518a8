// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import io.symbolon.seal.Secret;

/**
 * A password that a program has at hand. It can't be stored, so that no renewal can use it.
 *
 * @param secret the password, which the caller wipes
 */
public record GivenPassword(Secret secret) implements SealSource {}
