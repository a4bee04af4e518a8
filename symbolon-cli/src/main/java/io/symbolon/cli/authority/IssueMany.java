// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.chain.Credential;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.NewPassword;
import io.symbolon.cli.frame.SealPassword;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.cli.session.Session;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.convert.EncodedFile;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.issue.AuthorityFolder;
import io.symbolon.issue.ClientList;
import io.symbolon.issue.Signed;
import io.symbolon.issue.SigningAuthority;
import io.symbolon.issue.SigningOrder;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Remedy;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/** {@code symbolon authority issue --list FILE}: many credentials, each in a file of its own. */
final class IssueMany {
  private final Invocation invocation;
  private final IssueManyJob job;
  private final ClientList list;
  private final List<ClientList.Client> clients;
  private int written;

  private IssueMany(Invocation invocation, IssueManyJob job) {
    this.invocation = invocation;
    this.job = job;
    this.list = ClientList.read(job.list(), job.common());
    this.clients = list.clients();
  }

  static int run(Invocation invocation, IssueManyJob job) {
    return new IssueMany(invocation, job).run();
  }

  private int run() {
    AuthorityFolder from = invocation.authority(job.by());
    SigningAuthority authority =
        OpenedAuthority.of(invocation, from, job.unlock()).publishing(job.published());
    List<SigningOrder> orders = list.orders(job.use(), job.lasts());
    list.check(authority.authority(), orders, invocation.session().clock().instant());
    for (ClientList.Client client : clients) {
      check(job.folder(), file(client));
      job.passwords().ifPresent(to -> check(to, passwordFile(to, client)));
    }
    Optional<OutputProtection> common =
        job.passwords().isPresent()
            ? Optional.empty()
            : Optional.of(
                OutputProtection.of(
                    invocation,
                    job.result(),
                    new Destination(file(clients.get(0)), job.format(), false),
                    true));
    try {
      authority.issueUnrecorded(orders, job.kind(), batch -> write(batch, common));
    } catch (SymbolonException e) {
      throw written == 0 ? e : broken(e);
    } finally {
      progress(clients.size());
    }
    report(authority.folder());
    return ExitCode.DONE;
  }

  /** What was written before stays, and is on record: the rest of the list can be issued later. */
  private SymbolonException broken(SymbolonException e) {
    return new SymbolonException(
        e.reason(),
        "Only the first "
            + written
            + " of "
            + HoldingText.count(clients.size(), "credential")
            + " were issued.",
        e.statement() + " " + e.seen(),
        new Remedy(
            e.remedy().advice()
                + " Then remove the lines up to "
                + clients.get(written - 1).line()
                + " from the list, and give the command again.",
            e.remedy().actions()),
        e);
  }

  private Path file(ClientList.Client client) {
    return job.folder().resolve(client.file() + job.format().endings().get(0));
  }

  /** A folder that is not there yet is made with the first file in it. */
  private void check(Path around, Path file) {
    if (Files.isDirectory(around)) {
      SafeFile.checkPrivate(file, job.result().existing(), job.result().owner());
    } else {
      SafeFile.checkPrivate(around, Existing.KEEP, job.result().owner());
    }
  }

  private static Path passwordFile(Path to, ClientList.Client client) {
    return to.resolve(client.file() + ".pass");
  }

  /** All files of a batch become ready, then it is recorded, then they get their names. */
  private void write(Signed<List<Credential>> batch, Optional<OutputProtection> common) {
    List<Path> folders = new ArrayList<>(List.of(job.folder()));
    job.passwords().ifPresent(folders::add);
    List<List<FileSet.Item>> items =
        IntStream.range(0, batch.value().size())
            .parallel()
            .mapToObj(i -> items(clients.get(written + i), batch.value().get(i), common))
            .toList();
    List<FileSet.Item> all = items.stream().flatMap(List::stream).toList();
    try {
      List<FileSet.Written> unused = FileSet.write(all, folders, batch::record);
    } catch (SymbolonException e) {
      throw NotHandedOut.credentials(
          batch, batch.value().stream().map(Credential::certificate).toList(), e);
    } finally {
      all.forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
    written += batch.value().size();
    progress(written);
  }

  private List<FileSet.Item> items(
      ClientList.Client client, Credential credential, Optional<OutputProtection> common) {
    Destination destination = new Destination(file(client), job.format(), false);
    OutputProtection guard = common.orElseGet(() -> own(client));
    try {
      EncodedFile file =
          AuthorityIssue.conversion(
                  destination, job.result(), credential, client.file(), job.withRoot())
              .encode(
                  String.valueOf(destination.path().getFileName()),
                  guard.wrapping(),
                  new SecureRandom());
      List<FileSet.Item> items = new ArrayList<>(guard.passwordFiles());
      items.add(
          new FileSet.Item(
                  destination.path(), file.content(), Privacy.OWNER_ONLY, job.result().existing())
              .withOwner(job.result().owner()));
      return items;
    } finally {
      if (common.isEmpty()) {
        guard.seal().ifPresent(seal -> seal.secret().close());
      }
    }
  }

  /** Nobody guesses a new password that is as strong as a key: few rounds are enough for it. */
  private OutputProtection own(ClientList.Client client) {
    Path path = passwordFile(job.passwords().orElseThrow(), client);
    NewPassword made = job.result().newPassword();
    SealPassword seal =
        new SealPassword(
            made.recipe().make("new=" + path), Optional.of(path), job.result().existing(), made);
    return new OutputProtection(
        KeyForm.PKCS8,
        made.recipe().isAsStrongAsAKey() ? Pkcs12Strength.RANDOM_PASSWORD : Pkcs12Strength.STRONG,
        Optional.of(seal),
        Optional.empty());
  }

  private void progress(int count) {
    Session session = invocation.session();
    if (!session.errIsTerminal()) {
      return;
    }
    if (count == clients.size()) {
      session.err().print("\r\u001B[K");
    } else if (count > 0) {
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
            + Output.shown(job.folder())
            + paint.faint(
                "  "
                    + job.format().title()
                    + ", one file each, readable by its owner only: "
                    + Output.shown(file(clients.get(0)).getFileName())
                    + (clients.size() > 1 ? ", ..." : "")));
    output.line(
        "  sealed   "
            + job.passwords()
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
                            job.passwords()
                                .map(to -> passwordFile(to, client))
                                .filter(Files::exists)
                                .map(Path::toString)))
                .toList()),
        List.of());
  }
}
