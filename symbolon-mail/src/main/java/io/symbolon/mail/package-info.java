// SPDX-License-Identifier: Apache-2.0
/** Saved mails with their attachments. */
@NullMarked
package io.symbolon.mail;

import org.jspecify.annotations.NullMarked;
