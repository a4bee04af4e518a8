// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

/** Where the password for a result comes from: it is known somewhere, or a new one is made. */
public sealed interface SealSource permits PasswordSource, NewPasswordFile, GivenPassword {}
