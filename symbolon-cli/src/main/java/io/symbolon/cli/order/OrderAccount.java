// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.ExternalAccount;
import io.symbolon.acme.Patience;
import io.symbolon.acme.RefusedException;
import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.RemoteAuthority;
import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.wire.AccountKey;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.NewPassword;
import io.symbolon.cli.frame.SealPassword;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.key.KeyKind;
import io.symbolon.party.PartyFiles;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
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
 * @param folder the folder
 * @param remote the account
 * @param seal the password that opened its key
 * @param isNew whether it was made just now
 */
record OrderAccount(AccountFolder folder, RemoteAccount remote, Secret seal, boolean isNew) {
  /** The key of an account is small and its signatures are short. */
  private static final KeyKind KIND = KeyKind.EC_P256;

  /**
   * How an account is found or made.
   *
   * @param folder its folder
   * @param directory the address of the authority's directory, where it is said
   * @param trust files with whom to trust over HTTPS
   * @param contacts e-mail addresses for the authority
   * @param agrees whether its terms are agreed to
   * @param bindId the name of the key that binds it to an account of the authority
   * @param bindKey where that key comes from
   * @param seal where the password of a new folder comes from
   * @param unlock the sources of passwords to try
   */
  record Wish(
      Path folder,
      Optional<URI> directory,
      List<Path> trust,
      List<String> contacts,
      boolean agrees,
      Optional<String> bindId,
      Optional<SecretSource> bindKey,
      Optional<SecretSource> seal,
      List<SecretSource> unlock) {
    static Wish of(GivenOptions given, Optional<URI> directory) {
      Path folder =
          given
              .pathOf("account")
              .orElseThrow(
                  () ->
                      Usage.wrong(
                          "No folder for the account is given.",
                          "Use --account FOLDER; it is made where there is none."));
      if (given.has("bind-id") != given.has("bind-key")) {
        throw Usage.wrong(
            "--bind-id and --bind-key belong together.",
            "Give both; the authority hands them out.");
      }
      return new Wish(
          folder,
          directory,
          given.paths("trust"),
          given.values("contact").stream()
              .map(one -> one.startsWith("mailto:") ? one : "mailto:" + one)
              .toList(),
          given.has("agree"),
          given.value("bind-id"),
          given.value("bind-key").map(one -> SecretSource.parse("--bind-key", one)),
          given.secret("seal-account"),
          given.unlock());
    }
  }

  static OrderAccount open(Invocation invocation, Wish wish) {
    if (!AccountFolder.isOne(wish.folder())) {
      return made(invocation, wish);
    }
    // Another command may be just changing the key of the account.
    AccountFolder folder = AccountFolder.open(wish.folder());
    return folder.holding(() -> known(invocation, wish, folder));
  }

  private static OrderAccount known(Invocation invocation, Wish wish, AccountFolder folder) {
    if (wish.directory().isPresent() && !wish.directory().get().equals(folder.directory())) {
      throw Usage.wrong(
          "The account in "
              + Output.shown(wish.folder())
              + " is one at "
              + VisibleText.of(folder.directory().toString())
              + ".",
          "Leave --from out, or name another folder for an account there.");
    }
    Opened opened = unlocked(invocation, folder, wish.unlock());
    if (!wish.trust().isEmpty()) {
      folder.trustAlso(trusted(invocation, wish));
    }
    RemoteAuthority authority =
        RemoteAuthority.at(folder.directory(), trust(folder.trust()), Patience.usual());
    boolean known = folder.account().isPresent();
    RemoteAccount remote =
        known
            ? found(folder, authority, opened)
            : registered(
                invocation,
                folder,
                authority,
                opened.pair(),
                agree(invocation, authority, wish),
                wish);
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
  private static Opened unlocked(
      Invocation invocation, AccountFolder folder, List<SecretSource> sources) {
    List<SecretSource> all = new ArrayList<>(sources);
    Path own = folder.folder().resolve(AccountFolder.PASSWORD);
    if (Files.exists(own)) {
      all.add(new SecretSource("--unlock", "file", own.toString()));
    }
    if (all.isEmpty()) {
      all.add(SecretSource.parse("--unlock", "ask"));
    }
    SymbolonException last = null;
    for (Secret one : invocation.unlock(all)) {
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
            "Give it: --unlock file=PATH")
        : last;
  }

  private static OrderAccount made(Invocation invocation, Wish wish) {
    URI directory =
        wish.directory()
            .orElseThrow(
                () ->
                    Usage.wrong(
                        Output.shown(wish.folder())
                            + " is not the folder of an account, and no authority is given.",
                        "Say where a new account is made: --from URL"));
    List<Certificate> trusted = trusted(invocation, wish);
    RemoteAuthority authority = RemoteAuthority.at(directory, trust(trusted), Patience.usual());
    boolean agreed = agree(invocation, authority, wish); // before anything is written
    SealPassword seal =
        wish.seal()
            .map(
                source ->
                    source.resolveSeal(
                        invocation.session(), Existing.KEEP, NewPassword.USUAL, true))
            .orElseGet(() -> own(wish.folder()));
    KeyPair pair = KIND.generate(new SecureRandom());
    List<FileSet.Item> extra = seal.item().stream().toList();
    AccountFolder folder =
        AccountFolder.make(
            wish.folder(), directory, trusted, pair, seal.secret(), extra, new SecureRandom());
    RemoteAccount remote = registered(invocation, folder, authority, pair, agreed, wish);
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
      Invocation invocation,
      AccountFolder folder,
      RemoteAuthority authority,
      KeyPair pair,
      boolean agreed,
      Wish wish) {
    Optional<ExternalAccount> external =
        wish.bindId()
            .map(
                id ->
                    new ExternalAccount(
                        id, invocation.unlock(List.of(wish.bindKey().orElseThrow())).get(0)));
    RemoteAccount remote =
        authority.register(AccountKey.of(pair), wish.contacts(), agreed, external);
    folder.remember(remote.url());
    return remote;
  }

  /** Terms are agreed to by a person, or by an option of a script; never by the way. */
  private static boolean agree(Invocation invocation, RemoteAuthority authority, Wish wish) {
    Optional<URI> terms = authority.directory().terms();
    if (terms.isEmpty() || wish.agrees()) {
      return terms.isPresent();
    }
    String shown = VisibleText.of(terms.get().toString());
    if (invocation.session().prompt().isAttended()) {
      invocation.session().err().println("Terms of service of the authority: " + shown);
      if (invocation.session().prompt().agrees("Do you agree to them?")) {
        return true;
      }
    }
    throw new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "No account was made.",
        "The authority has terms of service: " + shown,
        "Read them. If you agree, give the command again with --agree.");
  }

  private static List<Certificate> trusted(Invocation invocation, Wish wish) {
    if (wish.trust().isEmpty()) {
      return List.of();
    }
    Survey survey = invocation.survey(wish.trust(), invocation.unlock(wish.unlock()));
    List<Certificate> all = PartyFiles.trust(survey, new ArrayList<>());
    if (all.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "It is not clear whom to trust.",
                      "The files of --trust hold no certificate.",
                      "Name the file with the authority's root: --trust FILE"));
    }
    return all;
  }

  private static SSLContext trust(List<Certificate> trusted) {
    return TlsSetup.client(trusted.isEmpty() ? Trust.system() : Trust.in(trusted)).context();
  }
}
