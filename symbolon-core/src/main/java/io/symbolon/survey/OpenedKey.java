// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.seal.Secret;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * A private key and the password that opened it.
 *
 * @param secret the password
 */
record OpenedKey(PrivateKeyInfo key, Secret secret) {
  /** The key as the first password that fits opens it. */
  static Optional<OpenedKey> first(
      List<Secret> secrets, Function<Secret, Optional<PrivateKeyInfo>> open) {
    for (Secret secret : secrets) {
      Optional<PrivateKeyInfo> key = open.apply(secret);
      if (key.isPresent()) {
        return Optional.of(new OpenedKey(key.get(), secret));
      }
    }
    return Optional.empty();
  }

  /** The passwords to try: those given, in every spelling, and the empty one last. */
  static List<Secret> tried(List<Secret> unlock) {
    List<Secret> tried = new java.util.ArrayList<>();
    unlock.forEach(secret -> tried.addAll(secret.spellings()));
    tried.add(Secret.empty());
    return tried;
  }
}
