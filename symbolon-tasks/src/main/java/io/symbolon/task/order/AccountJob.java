// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FileSet;
import io.symbolon.file.WrittenItem;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.task.TaskRun;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.place.PlacesText;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/**
 * Shows an account, gives it other contacts or another key, or gives it up for good.
 *
 * @param account how it is found
 * @param contacts whether its contacts become those of the wish
 * @param newKey whether it gets another key
 * @param giveUp whether it is given up
 */
public record AccountJob(AccountSource account, boolean contacts, boolean newKey, boolean giveUp) {
  /**
   * Shows the account, and changes of it what is said.
   *
   * @param run what it is done in
   * @return how it is then
   */
  public AccountReport run(TaskRun run) {
    return run(OrderAccount.open(run, account));
  }

  /**
   * The same with an account that is open.
   *
   * @param opened the account
   * @return how it is then
   */
  public AccountReport run(OrderAccount opened) {
    AccountKey key = opened.folder().holding(() -> changed(opened));
    return new AccountReport(
        opened.folder(),
        Optional.of(opened.remote().url()),
        Optional.of(key),
        giveUp
            ? AccountReport.Outcome.GIVEN_UP
            : newKey || contacts ? AccountReport.Outcome.CHANGED : AccountReport.Outcome.SHOWN);
  }

  /**
   * Forgets an order or a certificate, so that it is not tried any more; or a place of a server, so
   * that it is not renewed there any more. That needs neither the authority nor a password.
   *
   * @param folder the folder of the account
   * @param name the name of the order or certificate; of a place, its server and site, such as
   *     {@code nginx ingest.lanternfish.example}; or the path of a program
   * @return the account then
   * @throws SymbolonException if it has nothing of that name
   */
  public static AccountReport forget(Path folder, String name) {
    AccountFolder known = AccountFolder.open(folder);
    if (!known.holding(() -> known.forget(name) || forgetPlace(known, name))) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "Nothing was forgotten.",
          "The account has nothing of the name " + Wording.shown(name) + ".",
          "See the names: symbolon order account "
              + Input.ACCOUNT.mention(Wording.shown(known.folder())));
    }
    return new AccountReport(
        known, Optional.empty(), Optional.empty(), AccountReport.Outcome.FORGOTTEN);
  }

  /** Renewals do not reach such a place any more; what lies there stays. */
  private static boolean forgetPlace(AccountFolder known, String name) {
    boolean found = false;
    for (Standing one : known.standings()) {
      PlacesRecord all = known.places(one).map(PlacesText::read).orElse(PlacesRecord.NONE);
      PlacesRecord left =
          all.with(all.places().stream().filter(place -> !place.title().equals(name)).toList())
              .withPrograms(
                  all.allPrograms().stream().filter(own -> !own.path().equals(name)).toList());
      if (!left.equals(all)) {
        String json = PlacesText.write(left);
        List<WrittenItem> unused =
            FileSet.write(List.of(known.placesItem(one, json).withoutUndo()));
        found = true;
      }
    }
    return found;
  }

  /** Returns the key that the account has then. */
  private AccountKey changed(OrderAccount opened) {
    AccountFolder folder = opened.folder();
    RemoteAccount remote = opened.remote();
    AccountKey key = AccountKey.of(folder.key(List.of(opened.seal())));
    if (contacts) {
      remote.changeContacts(account.contacts());
    }
    if (newKey) {
      KeyPair pair = KeyKind.EC_P256.generate(new SecureRandom());
      folder.keepNextKey(pair, opened.seal(), new SecureRandom());
      key = AccountKey.of(pair);
      remote = remote.changeKey(key);
      folder.takeNextKey();
    }
    if (giveUp) {
      remote.deactivate();
    }
    return key;
  }
}
