// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.folder;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.FolderWork;
import io.symbolon.file.Privacy;
import io.symbolon.file.RememberedFolders;
import io.symbolon.file.SafeRead;
import io.symbolon.file.StoredTrust;
import io.symbolon.file.WrittenItem;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemReader;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Everything of an account that lasts: its sealed key, whom it trusts, its orders, and how each
 * certificate was obtained. Each file is whole at every moment; a key is on the disk before anybody
 * is asked to certify it, and an order before it is gone on with.
 */
public final class AccountFolder {
  /** The file with the sealed key of the account. */
  public static final String KEY = "signing.key";

  /** The file with a password that was made for the folder. */
  public static final String PASSWORD = "folder.password";

  private static final String NEXT_KEY = "signing.key.next";
  private static final String ACCOUNT = "authority.json";
  private static final String TRUST = "trust.pem";
  private static final String STANDING = ".order.json";
  private static final String PLACES = ".places.json";
  private static final String WAITING = ".order.key";
  private static final String REFUSED = ".refused.pem";
  private static final String REFUSED_KEY = ".refused.key";
  private static final int MOST = 1 << 20;
  private static final int ROUNDS = 120_000;
  private static final int VALUES = 1_000;

  private static final Logger LOG = LoggerFactory.getLogger(AccountFolder.class);
  private static final RememberedFolders KNOWN = new RememberedFolders("accounts");

  private final Path folder;
  private final URI directory;

  private AccountFolder(Path folder, URI directory) {
    this.folder = folder;
    this.directory = directory;
  }

  /** {@return whether a folder is that of an account} */
  public static boolean isOne(Path folder) {
    return Files.isRegularFile(folder.resolve(ACCOUNT));
  }

  /**
   * {@return the account in a folder, to be worked with} What is stored in it leads to programs
   * that are started and to places that are written.
   *
   * @throws SymbolonException if there is none, or somebody else could have written what is in it
   */
  public static AccountFolder open(Path folder) {
    AccountFolder found = look(folder);
    StoredTrust.checkFolder(folder, "The account");
    KNOWN.remember(folder);
    return found;
  }

  /**
   * {@return the folders of the accounts that were worked with on this machine, the latest first;
   * to be looked at alone}
   */
  public static List<AccountFolder> known() {
    List<AccountFolder> all = new ArrayList<>();
    for (Path one : KNOWN.all()) {
      try {
        if (isOne(one)) {
          all.add(look(one));
        }
      } catch (SymbolonException e) {
        LOG.debug("the account in {} is passed over", one, e);
      }
    }
    return all;
  }

  /**
   * {@return the account in a folder, to be looked at alone: somebody else could have written what
   * is in it}
   *
   * @throws SymbolonException if there is none
   */
  public static AccountFolder look(Path folder) {
    if (!isOne(folder)) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          shown(folder) + " is not the folder of an account.",
          Files.isDirectory(folder)
              ? "There is no file " + ACCOUNT + " in it."
              : "There is no such folder.",
          "Name the folder of an account; symbolon order makes one: "
              + Input.ACCOUNT.mention("FOLDER"));
    }
    ObjectNode json = read(folder.resolve(ACCOUNT));
    try {
      return new AccountFolder(folder, JsonText.address(json, "directory"));
    } catch (JsonText.Malformed e) {
      throw damaged(folder.resolve(ACCOUNT), e.what());
    }
  }

  /**
   * Makes the folder of an account, whole or not at all, with a new key.
   *
   * @param folder the folder, which is not there or empty
   * @param directory the address of the authority's directory
   * @param trust whom to trust over HTTPS; the system's roots where it is empty
   * @param pair the key
   * @param seal the password for it
   * @param extra files that are written as well, such as one with that password
   * @param random where random numbers come from
   * @return the folder
   */
  public static AccountFolder make(
      Path folder,
      URI directory,
      List<Certificate> trust,
      KeyPair pair,
      Secret seal,
      List<FileItem> extra,
      SecureRandom random) {
    if (seal.isEmpty()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The account was not made.",
          "Its key would be sealed with the empty password: whoever gets the folder could order.",
          "Give a password for it: " + Input.ACCOUNT_PASSWORD.mention("SOURCE"));
    }
    ObjectNode json = JsonText.object().put("directory", directory.toString());
    List<FileItem> items = new ArrayList<>(extra);
    items.add(sealed(folder.resolve(KEY), PrivateKeyInfo.of(pair), seal, random));
    if (!trust.isEmpty()) {
      ByteArrayOutputStream pem = new ByteArrayOutputStream();
      trust.forEach(one -> pem.writeBytes(PemWriter.write("CERTIFICATE", one.encoding())));
      items.add(
          new FileItem(
              folder.resolve(TRUST), pem.toByteArray(), Privacy.OWNER_ONLY, Existing.KEEP));
    }
    items.add(
        new FileItem(
            folder.resolve(ACCOUNT), JsonText.write(json), Privacy.OWNER_ONLY, Existing.KEEP));
    List<WrittenItem> unused =
        FileSet.write(items, Files.exists(folder) ? List.of() : List.of(folder));
    KNOWN.remember(folder);
    return new AccountFolder(folder, directory);
  }

  private static FileItem sealed(Path file, PrivateKeyInfo key, Secret seal, SecureRandom random) {
    EncryptedPrivateKeyInfo closed =
        EncryptedPrivateKeyInfo.seal(key, Protection.strong(random, ROUNDS), seal);
    return new FileItem(
            file,
            PemWriter.write("ENCRYPTED PRIVATE KEY", closed.encoding()),
            Privacy.OWNER_ONLY,
            Existing.REPLACE)
        .withoutUndo();
  }

  /** {@return where it is} */
  public Path folder() {
    return folder;
  }

  /** {@return the address of the authority's directory} */
  public URI directory() {
    return directory;
  }

  /**
   * {@return what comes of some work, during which no other command changes this folder}
   *
   * @param <T> what comes of it
   */
  public <T> T holding(Supplier<T> work) {
    return FolderWork.holding(List.of(folder.resolve(ACCOUNT)), work);
  }

  /** {@return whom to trust over HTTPS; nobody said where it is empty} */
  public List<Certificate> trust() {
    Path file = folder.resolve(TRUST);
    if (!Files.exists(file)) {
      return List.of();
    }
    List<Certificate> all = new ArrayList<>();
    PemReader.read(octets(file)).blocks().forEach(one -> all.add(Certificate.read(one.content())));
    return all;
  }

  /**
   * {@return the key of the account}
   *
   * @param passwords to try
   * @throws SymbolonException if none of them opens it
   */
  public KeyPair key(List<Secret> passwords) {
    return pair(opened(folder.resolve(KEY), passwords));
  }

  private static PrivateKeyInfo opened(Path file, List<Secret> passwords) {
    Survey survey = Surveyor.create().withUnlock(passwords).survey(List.of(file));
    return survey.matches().stream()
        .findFirst()
        .flatMap(match -> match.key().key())
        .orElseThrow(
            () ->
                survey.failures().stream()
                    .findFirst()
                    .map(e -> e.restated("The key in " + shown(file) + " was not opened."))
                    .orElseGet(() -> damaged(file, "there is no key in it")));
  }

  private static KeyPair pair(PrivateKeyInfo key) {
    SubjectPublicKeyInfo half = key.computedPublicHalf().orElseThrow();
    return new KeyPair(half.toPublicKey(), key.toPrivateKey());
  }

  /**
   * Keeps the key that shall take the place of the account's, before the authority is told of it.
   *
   * @param pair the new key
   * @param seal the password of the folder
   * @param random where random numbers come from
   */
  public void keepNextKey(KeyPair pair, Secret seal, SecureRandom random) {
    List<WrittenItem> unused =
        FileSet.write(
            List.of(sealed(folder.resolve(NEXT_KEY), PrivateKeyInfo.of(pair), seal, random)));
  }

  /**
   * {@return the key that was to take the place of the account's when a command ended}
   *
   * @param passwords to try
   */
  public Optional<KeyPair> nextKey(List<Secret> passwords) {
    Path file = folder.resolve(NEXT_KEY);
    return Files.exists(file) ? Optional.of(pair(opened(file, passwords))) : Optional.empty();
  }

  /** Puts that key in the place of the account's: the authority knows it now. */
  public void takeNextKey() {
    byte[] next = octets(folder.resolve(NEXT_KEY));
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                new FileItem(folder.resolve(KEY), next, Privacy.OWNER_ONLY, Existing.REPLACE)
                    .withoutUndo()));
    dropNextKey();
  }

  /** Forgets that key: the authority does not know it. */
  public void dropNextKey() {
    remove(folder.resolve(NEXT_KEY));
  }

  /** {@return the address of the account, where it was told} */
  public Optional<URI> account() {
    Path file = folder.resolve(ACCOUNT);
    try {
      ObjectNode json = read(file);
      return JsonText.find(json, "account").isEmpty()
          ? Optional.empty()
          : Optional.of(JsonText.address(json, "account"));
    } catch (JsonText.Malformed e) {
      throw damaged(file, e.what());
    }
  }

  /**
   * Writes down the address of the account.
   *
   * @param account the address
   */
  public void remember(URI account) {
    replace(
        folder.resolve(ACCOUNT),
        JsonText.object()
            .put("directory", directory.toString())
            .put("account", account.toString()));
  }

  private static void replace(Path file, ObjectNode json) {
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                new FileItem(file, JsonText.write(json), Privacy.OWNER_ONLY, Existing.REPLACE)
                    .withoutUndo()));
  }

  /** {@return what was obtained and what is under way, by name} */
  public List<Standing> standings() {
    List<Standing> all = new ArrayList<>();
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file : files.sorted().toList()) {
        String name = String.valueOf(file.getFileName());
        if (name.endsWith(STANDING)) {
          all.add(standing(file, name.substring(0, name.length() - STANDING.length())));
        }
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The folder " + shown(folder) + " can't be read.",
          "The system does not let you.",
          "Give the command as the account that it belongs to.",
          e);
    }
    return all;
  }

  private static Standing standing(Path file, String name) {
    ObjectNode json = read(file);
    try {
      Optional<String> order = JsonText.find(json, "order");
      Optional<String> certificate = JsonText.find(json, "certificate");
      return new Standing(
          name,
          job(json),
          order.isEmpty() ? Optional.empty() : Optional.of(JsonText.address(order.get(), "order")),
          JsonText.moment(json, "since"),
          certificate.map(AccountFolder::certificate));
    } catch (JsonText.Malformed e) {
      throw damaged(file, e.what());
    }
  }

  private static String job(ObjectNode json) throws JsonText.Malformed {
    if (json.get("job") instanceof ObjectNode job) {
      return text(job);
    }
    ObjectNode earlier = JsonText.object();
    ArrayNode options = earlier.putArray("options");
    for (JsonNode one : JsonText.list(json, "options", VALUES)) {
      options.add(one.asText());
    }
    return text(earlier);
  }

  private static String text(ObjectNode json) {
    return new String(JsonText.write(json), java.nio.charset.StandardCharsets.UTF_8);
  }

  private static Certificate certificate(String pem) {
    return Certificate.read(
        PemReader.read(pem.getBytes(java.nio.charset.StandardCharsets.US_ASCII))
            .blocks()
            .get(0)
            .content());
  }

  /** {@return what a certificate for a host shall be called, which no other has} */
  public String freeName(String host) {
    String safe = FileNames.safe(host);
    String base = safe.isEmpty() ? "certificate" : safe;
    String name = base;
    for (int number = 2; Files.exists(folder.resolve(name + STANDING)); number++) {
      name = base + "-" + number;
    }
    return name;
  }

  /**
   * Writes down how something stands.
   *
   * @param standing how it stands
   */
  public void save(Standing standing) {
    ObjectNode json = JsonText.object();
    putJob(json, standing.job());
    standing.order().ifPresent(one -> json.put("order", one.toString()));
    standing.since().ifPresent(one -> json.put("since", one.toString()));
    standing
        .certificate()
        .ifPresent(
            one ->
                json.put(
                    "certificate",
                    new String(
                        PemWriter.write("CERTIFICATE", one.encoding()),
                        java.nio.charset.StandardCharsets.US_ASCII)));
    replace(folder.resolve(standing.name() + STANDING), json);
  }

  /** What is not in the form of today keeps its own, until it is written anew. */
  private static void putJob(ObjectNode json, String job) {
    try {
      ObjectNode read = JsonText.read(job.getBytes(java.nio.charset.StandardCharsets.UTF_8));
      if (read.get("options") instanceof ArrayNode earlier) {
        json.set("options", earlier);
      } else {
        json.set("job", read);
      }
    } catch (JsonText.Malformed e) {
      throw new IllegalArgumentException("a job that is no JSON object", e);
    }
  }

  /** {@return the file in which it stands where a certificate is shown besides} */
  public Path placesFile(Standing standing) {
    return folder.resolve(standing.name() + PLACES);
  }

  /**
   * {@return where a certificate is shown besides, as JSON that the folder keeps and does not read;
   * nothing where it goes nowhere else}
   *
   * @throws SymbolonException if it is damaged
   */
  public Optional<String> places(Standing standing) {
    Path file = placesFile(standing);
    return Files.exists(file) ? Optional.of(text(read(file))) : Optional.empty();
  }

  /**
   * {@return what writes that down, in one step with other files; undo takes it away again}
   *
   * @param json where it is shown
   */
  public FileItem placesItem(Standing standing, String json) {
    return new FileItem(
            placesFile(standing),
            (json + "\n").getBytes(java.nio.charset.StandardCharsets.UTF_8),
            Privacy.OWNER_ONLY,
            Existing.REPLACE)
        .goingWithUndo();
  }

  /**
   * Keeps the key of an order until its certificate is there.
   *
   * @param standing whose key it is
   * @param pair the key
   * @param seal the password of the account
   * @param random where random numbers come from
   */
  public void keepKey(Standing standing, KeyPair pair, Secret seal, SecureRandom random) {
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                sealed(
                    folder.resolve(standing.name() + WAITING),
                    PrivateKeyInfo.of(pair),
                    seal,
                    random)));
  }

  /**
   * {@return the key that waits for the certificate of an order}
   *
   * @param standing whose key it is
   * @param passwords to try
   */
  public Optional<KeyPair> waitingKey(Standing standing, List<Secret> passwords) {
    Path file = folder.resolve(standing.name() + WAITING);
    return Files.exists(file) ? Optional.of(pair(opened(file, passwords))) : Optional.empty();
  }

  /**
   * Removes the key that waited: it is where it belongs, or of no use any more.
   *
   * @param standing whose key it was
   */
  public void dropKey(Standing standing) {
    remove(folder.resolve(standing.name() + WAITING));
  }

  /**
   * Forgets an order that led to nothing, or a certificate that is not to be renewed any more; what
   * lies where it was written stays.
   *
   * @param name what it is called in the folder
   * @return whether there was one
   */
  public boolean forget(String name) {
    String safe = FileNames.safe(name);
    boolean there = !safe.isEmpty() && Files.exists(folder.resolve(safe + STANDING));
    if (there) {
      remove(folder.resolve(safe + STANDING));
      remove(folder.resolve(safe + WAITING));
      remove(folder.resolve(safe + PLACES));
    }
    return there;
  }

  /**
   * Keeps a certificate that was not taken, and its key, for a person to look at; only the last
   * one.
   *
   * @param standing whose it is
   * @param chain the certificate and those that came with it
   * @return the file with the certificate
   */
  public Path keepRefused(Standing standing, List<Certificate> chain) {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    chain.forEach(one -> pem.writeBytes(PemWriter.write("CERTIFICATE", one.encoding())));
    List<FileItem> items = new ArrayList<>();
    Path file = folder.resolve(standing.name() + REFUSED);
    items.add(
        new FileItem(file, pem.toByteArray(), Privacy.OWNER_ONLY, Existing.REPLACE).withoutUndo());
    Path key = folder.resolve(standing.name() + WAITING);
    if (Files.exists(key)) {
      items.add(
          new FileItem(
                  folder.resolve(standing.name() + REFUSED_KEY),
                  octets(key),
                  Privacy.OWNER_ONLY,
                  Existing.REPLACE)
              .withoutUndo());
    }
    List<WrittenItem> unused = FileSet.write(items);
    return file;
  }

  /**
   * Trusts more roots, over HTTPS and at the end of chains.
   *
   * @param more the certificates
   */
  public void trustAlso(List<Certificate> more) {
    List<Certificate> all = new ArrayList<>(trust());
    more.stream().filter(one -> !all.contains(one)).forEach(all::add);
    if (all.size() == trust().size()) {
      return;
    }
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    all.forEach(one -> pem.writeBytes(PemWriter.write("CERTIFICATE", one.encoding())));
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                new FileItem(
                    folder.resolve(TRUST),
                    pem.toByteArray(),
                    Privacy.OWNER_ONLY,
                    Existing.REPLACE)));
  }

  private static void remove(Path file) {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file " + shown(file) + " was not removed.",
          "The system does not let you.",
          "Remove it by hand.",
          e);
    }
  }

  private static ObjectNode read(Path file) {
    try {
      return JsonText.read(octets(file));
    } catch (JsonText.Malformed e) {
      throw damaged(file, e.what());
    }
  }

  private static byte[] octets(Path file) {
    try {
      SafeRead.Content content = SafeRead.named(file, MOST, MOST);
      if (content.whole()) {
        return content.octets();
      }
      throw damaged(file, "it has more than " + MOST + " octets");
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The file " + shown(file) + " can't be read.",
          Files.exists(file) ? "The system does not let you." : "There is no such file.",
          "Give the command as the account that it belongs to.",
          e);
    }
  }

  private static SymbolonException damaged(Path file, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The file " + shown(file) + " can't be used.",
        "It is damaged: " + VisibleText.of(seen) + ".",
        "Bring it back from a backup.");
  }

  private static String shown(Path path) {
    return VisibleText.of(path.toString());
  }
}
