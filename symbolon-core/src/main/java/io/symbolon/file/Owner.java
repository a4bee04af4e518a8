// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.FileSystem;
import java.nio.file.attribute.GroupPrincipal;
import java.nio.file.attribute.UserPrincipal;
import java.nio.file.attribute.UserPrincipalNotFoundException;
import java.util.Optional;

/**
 * To whom a file shall belong: an account, and a group that may read it as well.
 *
 * @param user the account
 * @param group the group; none where only the account may read it
 */
public record Owner(String user, Optional<String> group) {
  /**
   * {@return an owner as text: {@code USER} or {@code USER:GROUP}}
   *
   * @throws SymbolonException if there is no user in it
   */
  public static Owner parse(String text) {
    int colon = text.indexOf(':');
    String user = colon < 0 ? text : text.substring(0, colon);
    String group = colon < 0 ? "" : text.substring(colon + 1);
    if (user.isEmpty() || (colon >= 0 && group.isEmpty())) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(text) + "' names no owner.",
          "An owner is USER or USER:GROUP.",
          "Say, for example, tomcat or root:tomcat.");
    }
    return new Owner(user, group.isEmpty() ? Optional.empty() : Optional.of(group));
  }

  UserPrincipal principal(FileSystem system) throws IOException {
    try {
      return system.getUserPrincipalLookupService().lookupPrincipalByName(user);
    } catch (UserPrincipalNotFoundException | UnsupportedOperationException e) {
      throw unknown("account", user, e);
    }
  }

  Optional<GroupPrincipal> groupPrincipal(FileSystem system) throws IOException {
    if (group.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          system.getUserPrincipalLookupService().lookupPrincipalByGroupName(group.get()));
    } catch (UserPrincipalNotFoundException | UnsupportedOperationException e) {
      throw unknown("group", group.get(), e);
    }
  }

  private static SymbolonException unknown(String what, String name, Exception cause) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "Nothing was written.",
        "This machine has no " + what + " " + VisibleText.of(name) + ".",
        "Check the name.",
        cause);
  }
}
