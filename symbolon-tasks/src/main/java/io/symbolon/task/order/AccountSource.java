// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.WrongJob;
import java.net.URI;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * How an account is found or made.
 *
 * @param folder its folder, which is made where there is none
 * @param directory the address of the authority's directory, which a new account needs
 * @param trust files with whom to trust over HTTPS; whom the system trusts, where there are none
 * @param contacts addresses for the authority, as {@code mailto:} URIs
 * @param agrees whether its terms are agreed to
 * @param bindId the name of the key that binds it to an account of the authority
 * @param bindKey where that key comes from
 * @param seal where the password of a new folder comes from; otherwise one is saved in it
 * @param unlock the sources of passwords to try
 */
public record AccountSource(
    Path folder,
    Optional<URI> directory,
    List<Path> trust,
    List<String> contacts,
    boolean agrees,
    Optional<String> bindId,
    Optional<PasswordSource> bindKey,
    Optional<SealSource> seal,
    List<PasswordSource> unlock) {
  /** {@return the account of a folder that is there} */
  public static AccountSource of(Path folder, Collection<PasswordSource> unlock) {
    return new AccountSource(
        folder,
        Optional.empty(),
        List.of(),
        List.of(),
        false,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.copyOf(unlock));
  }

  /**
   * {@return an account that is made where it is not there yet}
   *
   * @param directory the address of the authority's directory
   * @param trust files with whom to trust over HTTPS
   */
  public static AccountSource at(Path folder, URI directory, Collection<Path> trust) {
    return new AccountSource(
        folder,
        Optional.of(directory),
        List.copyOf(trust),
        List.of(),
        false,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        List.of());
  }

  /**
   * Checks that what belongs together is there.
   *
   * @throws WrongJob if a key that binds it has no name, or a name has no key
   */
  public AccountSource {
    if (bindId.isPresent() != bindKey.isPresent()) {
      throw new WrongJob(
          Input.BIND_ID.mention() + " and " + Input.BIND_KEY.mention() + " belong together.",
          "Give both; the authority hands them out.");
    }
  }
}
