// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.ExternalAccount;
import io.symbolon.acme.Patience;
import io.symbolon.acme.RefusedException;
import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.RemoteAuthority;
import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.key.KeyKind;
import io.symbolon.party.PartyFiles;
import io.symbolon.party.Trust;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.NewPassword;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.SealPassword;
import io.symbolon.task.words.Wording;
import io.symbolon.text.VisibleText;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLContext;

/**
 * An account that is open: its folder, and its authority.
 *
 * @param remote the account
 * @param seal the password that opened its key
 * @param isNew whether it was made just now
 */
public record OrderAccount(AccountFolder folder, RemoteAccount remote, Secret seal, boolean isNew) {
  /** The key of an account is small and its signatures are short. */
  private static final KeyKind KIND = KeyKind.EC_P256;

  /**
   * Opens the account of a folder, or makes it where there is none.
   *
   * @param run what it is done in
   * @param wish where it is, and what a new one needs
   * @return the open account
   */
  public static OrderAccount open(TaskRun run, AccountSource wish) {
    if (!AccountFolder.isOne(wish.folder())) {
      return made(run, wish);
    }
    // Another command may be just changing the key of the account.
    AccountFolder folder = AccountFolder.open(wish.folder());
    return folder.holding(() -> known(run, wish, folder));
  }

  private static OrderAccount known(TaskRun run, AccountSource wish, AccountFolder folder) {
    if (wish.directory().isPresent() && !wish.directory().get().equals(folder.directory())) {
      throw new WrongJob(
          "The account in "
              + Wording.shown(wish.folder())
              + " is one at "
              + VisibleText.of(folder.directory().toString())
              + ".",
          "Leave " + Input.FROM.mention() + " out, or name another folder for an account there.");
    }
    Opened opened = unlocked(run, folder, wish.unlock());
    if (!wish.trust().isEmpty()) {
      folder.trustAlso(trusted(run, wish));
    }
    RemoteAuthority authority =
        RemoteAuthority.at(folder.directory(), trust(folder.trust()), Patience.usual());
    boolean known = folder.account().isPresent();
    RemoteAccount remote =
        known
            ? found(folder, authority, opened)
            : registered(run, folder, authority, opened.pair(), agree(run, authority, wish), wish);
    return new OrderAccount(folder, remote, opened.password(), !known);
  }

  /** The account of the key; or of the one that was just taking its place when a command ended. */
  private static RemoteAccount found(
      AccountFolder folder, RemoteAuthority authority, Opened opened) {
    Optional<KeyPair> next = folder.nextKey(List.of(opened.password()));
    if (next.isEmpty()) {
      return authority.account(AccountKey.of(opened.pair()));
    }
    try {
      RemoteAccount remote = authority.account(AccountKey.of(next.get()));
      folder.takeNextKey();
      return remote;
    } catch (RefusedException e) {
      RemoteAccount remote = authority.account(AccountKey.of(opened.pair()));
      folder.dropNextKey();
      return remote;
    }
  }

  private record Opened(KeyPair pair, Secret password) {}

  /** Passwords are tried one by one: the one that opens seals what is added. */
  private static Opened unlocked(TaskRun run, AccountFolder folder, List<PasswordSource> sources) {
    List<PasswordSource> all = new ArrayList<>(sources);
    Path own = folder.folder().resolve(AccountFolder.PASSWORD);
    if (Files.exists(own)) {
      all.add(PasswordSource.file(own));
    }
    if (all.isEmpty() && !run.hasGivenPasswords()) {
      all.add(PasswordSource.ASKED);
    }
    SymbolonException last = null;
    for (Secret one : run.unlock(all)) {
      try {
        return new Opened(folder.key(List.of(one)), one);
      } catch (SymbolonException e) {
        last = e;
      }
    }
    throw last == null
        ? new SymbolonException(
            Reason.LOCKED,
            "The key of the account was not opened.",
            "No password was given.",
            "Give it: " + Input.PASSWORD.mention("file=PATH"))
        : last;
  }

  private static OrderAccount made(TaskRun run, AccountSource wish) {
    URI directory =
        wish.directory()
            .orElseThrow(
                () ->
                    new WrongJob(
                        Wording.shown(wish.folder())
                            + " is not the folder of an account, and no authority is given.",
                        "Say where a new account is made: " + Input.FROM.mention("URL")));
    List<Certificate> trusted = trusted(run, wish);
    RemoteAuthority authority = RemoteAuthority.at(directory, trust(trusted), Patience.usual());
    boolean agreed = agree(run, authority, wish); // before anything is written
    SealPassword seal =
        wish.seal()
            .map(
                source ->
                    SealPassword.of(
                        run, Optional.of(source), Input.ACCOUNT_PASSWORD, ResultOptions.USUAL))
            .orElseGet(() -> own(wish.folder()));
    KeyPair pair = KIND.generate(new SecureRandom());
    List<FileItem> extra = seal.item().stream().toList();
    AccountFolder folder =
        AccountFolder.make(
            wish.folder(), directory, trusted, pair, seal.secret(), extra, new SecureRandom());
    RemoteAccount remote = registered(run, folder, authority, pair, agreed, wish);
    return new OrderAccount(folder, remote, seal.secret(), true);
  }

  /** A strong password that lies in the folder that is made. */
  private static SealPassword own(Path folder) {
    Path file = folder.resolve(AccountFolder.PASSWORD);
    NewPassword usual = NewPassword.USUAL;
    return new SealPassword(
        usual.recipe().make("new=" + file), Optional.of(file), Existing.KEEP, usual);
  }

  private static RemoteAccount registered(
      TaskRun run,
      AccountFolder folder,
      RemoteAuthority authority,
      KeyPair pair,
      boolean agreed,
      AccountSource wish) {
    Optional<ExternalAccount> external =
        wish.bindId()
            .map(
                id ->
                    new ExternalAccount(
                        id, run.unlock(List.of(wish.bindKey().orElseThrow())).get(0)));
    RemoteAccount remote =
        external
            .map(one -> authority.register(AccountKey.of(pair), wish.contacts(), agreed, one))
            .orElseGet(() -> authority.register(AccountKey.of(pair), wish.contacts(), agreed));
    folder.remember(remote.url());
    return remote;
  }

  /** Terms are agreed to by a person, or by an option of a script; never by the way. */
  private static boolean agree(TaskRun run, RemoteAuthority authority, AccountSource wish) {
    Optional<URI> terms = authority.directory().terms();
    if (terms.isEmpty() || wish.agrees()) {
      return terms.isPresent();
    }
    String shown = VisibleText.of(terms.get().toString());
    if (run.around().agreesToTerms(shown)) {
      return true;
    }
    throw new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "No account was made.",
        "The authority has terms of service: " + shown,
        "Read them. If you agree, give the command again with " + Input.AGREE.mention() + ".");
  }

  private static List<Certificate> trusted(TaskRun run, AccountSource wish) {
    if (wish.trust().isEmpty()) {
      return List.of();
    }
    Survey survey = run.survey(wish.trust(), run.unlock(wish.unlock()));
    List<Certificate> all = PartyFiles.trust(survey, new ArrayList<>());
    if (all.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "It is not clear whom to trust.",
                      "The files of " + Input.TRUST.mention() + " hold no certificate.",
                      "Name the file with the authority's root: " + Input.TRUST.mention("FILE")));
    }
    return all;
  }

  private static SSLContext trust(List<Certificate> trusted) {
    return TlsSetup.client(trusted.isEmpty() ? Trust.system() : Trust.in(trusted)).context();
  }
}
