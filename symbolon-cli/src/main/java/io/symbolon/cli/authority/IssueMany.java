// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.SealPassword;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;

/** {@code symbolon authority issue --list FILE}: many credentials, each in a file of its own. */
final class IssueMany {
  private final Invocation invocation;
  private final Path folder;
  private final Format target;
  private final Optional<Path> passwords;
  private final Existing existing;
  private final List<ClientList.Client> clients;
  private final AtomicInteger written = new AtomicInteger();

  private IssueMany(Invocation invocation) {
    this.invocation = invocation;
    this.existing = invocation.has("replace") ? Existing.REPLACE : Existing.KEEP;
    String into =
        invocation
            .value("into")
            .orElseThrow(
                () ->
                    Invocation.usage(
                        "No output folder is given.",
                        "Name a folder with --into, such as --into buoys/."));
    this.folder = Invocation.path(into);
    this.target =
        invocation
            .value("as")
            .map(word -> Destination.of("x", Optional.of(word)).target())
            .orElse(Format.PKCS12);
    if (!target.holdsKeys() || !target.can(Ability.CHAINS)) {
      throw Invocation.usage(
          target.title() + " has no place for a private key and its chain.",
          "Say --as pkcs12, jks, jceks or pem.");
    }
    this.passwords = passwordFolder(invocation);
    this.clients =
        ClientList.read(
            Invocation.path(invocation.value("list").orElseThrow()),
            DistinguishedName.parse(invocation.value("subject").orElse("")));
  }

  /** Where every credential gets a password of its own. */
  private static Optional<Path> passwordFolder(Invocation invocation) {
    String seal = invocation.value("seal").orElse("");
    boolean each = seal.startsWith("new=") && (seal.endsWith("/") || seal.endsWith("\\"));
    if (seal.startsWith("new=") && !each) {
      throw Invocation.usage(
          "One new password for all would have to be given to all.",
          "Say --seal new=FOLDER/ for one each, or --seal file=PATH if one for all is meant.");
    }
    return each ? Optional.of(Invocation.path(seal.substring(4))) : Optional.empty();
  }

  static int run(Invocation invocation) {
    return new IssueMany(invocation).run();
  }

  private int run() {
    AuthorityFolder from = invocation.authority();
    SigningAuthority authority = from.unlock(invocation.keyPasswords(from), new SecureRandom());
    List<SigningOrder> orders = orders();
    check(authority, orders);
    for (ClientList.Client client : clients) {
      check(folder, file(client));
      passwords.ifPresent(to -> check(to, passwordFile(to, client)));
    }
    Optional<OutputProtection> common =
        passwords.isPresent()
            ? Optional.empty()
            : Optional.of(
                OutputProtection.of(
                    invocation, new Destination(file(clients.get(0)), target, false), true));
    AtomicInteger done = new AtomicInteger();
    authority.issue(
        orders,
        AuthorityIssue.kind(invocation),
        batch -> {
          int first = done.getAndAdd(batch.size());
          IntStream.range(0, batch.size())
              .parallel()
              .forEach(i -> write(clients.get(first + i), batch.get(i), common));
        });
    progress(clients.size());
    report(from);
    return ExitCode.DONE;
  }

  private List<SigningOrder> orders() {
    Use use = invocation.use().orElse(Use.CLIENT);
    Lifetime lasts = AuthorityIssue.lasts(invocation);
    return clients.stream()
        .map(client -> new SigningOrder(RequestDraft.of(client.subject(), List.of(), use), lasts))
        .toList();
  }

  private void check(SigningAuthority authority, List<SigningOrder> orders) {
    Instant now = invocation.session().clock().instant();
    for (int i = 0; i < orders.size(); i++) {
      for (Finding finding : authority.authority().judge(orders.get(i), now, "")) {
        if (finding.level() == io.symbolon.finding.Level.PROBLEM) {
          throw ClientList.wrong(
              Invocation.path(invocation.value("list").orElseThrow()),
              clients.get(i).line(),
              finding.statement(),
              Reason.INVALID_ARGUMENT);
        }
      }
    }
  }

  private Path file(ClientList.Client client) {
    return folder.resolve(client.file() + target.endings().get(0));
  }

  /** A folder that is not there yet is made with the first file in it. */
  private void check(Path around, Path file) {
    if (Files.isDirectory(around)) {
      SafeFile.checkPrivate(file, existing, invocation.owner());
    } else {
      SafeFile.checkPrivate(around, Existing.KEEP, invocation.owner());
    }
  }

  private static Path passwordFile(Path to, ClientList.Client client) {
    return to.resolve(client.file() + ".pass");
  }

  private void write(
      ClientList.Client client, Credential credential, Optional<OutputProtection> common) {
    List<Path> folders = new ArrayList<>(List.of(folder));
    passwords.ifPresent(folders::add);
    Destination destination =
        new Destination(file(client), target, false).ownedBy(invocation.owner()).making(folders);
    OutputProtection guard = common.orElseGet(() -> own(client));
    try {
      WrittenResult unused =
          WrittenResult.write(
              destination,
              AuthorityIssue.conversion(invocation, destination, credential, client.file()),
              existing,
              guard,
              List.of());
    } catch (SymbolonException e) {
      throw new SymbolonException(
          e.reason(),
          "The certificate of "
              + HoldingText.name(credential.certificate().subject())
              + " was issued, but "
              + destination.shown()
              + " was not written.",
          e.seen(),
          new Remedy(
              e.remedy().advice()
                  + " Then revoke what was issued for this list, and issue it again.",
              e.remedy().actions()),
          e);
    } finally {
      if (common.isEmpty()) {
        guard.seal().ifPresent(seal -> seal.secret().close());
      }
    }
    progress(written.incrementAndGet());
  }

  /** A new password of 150 random bits: nobody guesses it, so few rounds are enough. */
  private OutputProtection own(ClientList.Client client) {
    Path path = passwordFile(passwords.orElseThrow(), client);
    SealPassword seal =
        new SealPassword(
            io.symbolon.seal.Secret.random("new=" + path), Optional.of(path), existing);
    return new OutputProtection(
        KeyForm.PKCS8, Pkcs12Strength.RANDOM_PASSWORD, Optional.of(seal), Optional.empty());
  }

  private synchronized void progress(int count) {
    Session session = invocation.session();
    if (!session.errIsTerminal()) {
      return;
    }
    if (count == clients.size()) {
      session.err().print("\r\u001B[K");
    } else if (count % 10 == 0) {
      session.err().printf("\rissued and written: %,d of %,d", count, clients.size());
    }
    session.err().flush();
  }

  private void report(AuthorityFolder from) {
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(document(from));
      return;
    }
    Paint paint = output.paint();
    output.line(
        paint.heading("Issued ")
            + HoldingText.count(clients.size(), "credential")
            + paint.faint("  by " + HoldingText.name(from.certificate().subject())));
    output.line(
        "  into     "
            + Output.shown(folder)
            + paint.faint(
                "  "
                    + target.title()
                    + ", one file each, readable by its owner only: "
                    + Output.shown(file(clients.get(0)).getFileName())
                    + (clients.size() > 1 ? ", ..." : "")));
    output.line(
        "  sealed   "
            + passwords
                .map(to -> "each with a new password of its own in " + Output.shown(to))
                .orElse("all with the same password"));
    output.line(
        "  kept     "
            + Output.shown(from.folder())
            + paint.faint("  every certificate is on record there"));
  }

  private IssueDocument document(AuthorityFolder from) {
    return new IssueDocument(
        "authority issue",
        Optional.of(from.folder().toString()),
        Optional.empty(),
        Optional.of(
            clients.stream()
                .map(
                    client ->
                        new IssueDocument.ListedCredential(
                            client.subject().toString(),
                            file(client).toString(),
                            passwords
                                .map(to -> passwordFile(to, client))
                                .filter(Files::exists)
                                .map(Path::toString)))
                .toList()),
        List.of());
  }
}
