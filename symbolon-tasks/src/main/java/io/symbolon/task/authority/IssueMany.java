// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.chain.Credential;
import io.symbolon.convert.EncodedFile;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.file.WrittenItem;
import io.symbolon.issue.ClientList;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Signed;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyForm;
import io.symbolon.survey.Progress;
import io.symbolon.task.TaskRun;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.NewPassword;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.SealPassword;
import io.symbolon.task.words.Wording;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/** Many credentials, each in a file of its own. */
final class IssueMany {
  private final IssueManyJob job;
  private final Progress progress;
  private final ClientList list;
  private final List<ClientList.Client> clients;
  private int written;

  IssueMany(IssueManyJob job, Progress progress) {
    this.job = job;
    this.progress = progress;
    this.list = ClientList.read(job.list(), job.common());
    this.clients = list.clients();
  }

  IssueManyReport run(TaskRun run) {
    AuthorityFolder from = run.authority(job.by());
    SigningAuthority authority =
        OpenedAuthority.of(run, from, job.unlock()).publishing(job.published());
    List<SigningOrder> orders = list.orders(job.use(), job.lasts());
    list.check(authority.authority(), orders, run.around().clock().instant());
    for (ClientList.Client client : clients) {
      check(job.folder(), job.file(client));
      job.passwords().ifPresent(to -> check(to, passwordFile(to, client)));
    }
    Optional<OutputProtection> common =
        job.passwords().isPresent()
            ? Optional.empty()
            : Optional.of(
                OutputProtection.of(
                    run,
                    job.result(),
                    new Destination(job.file(clients.get(0)), job.format(), false),
                    true));
    try {
      authority.issueUnrecorded(orders, job.kind(), batch -> write(batch, common));
    } catch (SymbolonException e) {
      throw written == 0 ? e : broken(e);
    } finally {
      progress.files(clients.size(), clients.size());
    }
    List<IssueManyReport.Issued> issued =
        clients.stream()
            .map(
                client ->
                    new IssueManyReport.Issued(
                        client.subject(),
                        job.file(client),
                        job.passwords().map(to -> passwordFile(to, client)).filter(Files::exists)))
            .toList();
    return new IssueManyReport(job, authority.folder(), issued);
  }

  /** What was written before stays, and is on record: the rest of the list can be issued later. */
  private SymbolonException broken(SymbolonException e) {
    return e.within(
        "Only the first "
            + written
            + " of "
            + Wording.count(clients.size(), "credential")
            + " were issued.",
        " Then remove the lines up to "
            + clients.get(written - 1).line()
            + " from the list, and give the command again.");
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
    List<List<FileItem>> items =
        IntStream.range(0, batch.value().size())
            .parallel()
            .mapToObj(i -> items(clients.get(written + i), batch.value().get(i), common))
            .toList();
    List<FileItem> all = items.stream().flatMap(List::stream).toList();
    try {
      List<WrittenItem> unused = FileSet.write(all, folders, batch::record);
    } catch (SymbolonException e) {
      throw NotHandedOut.credentials(
          batch, batch.value().stream().map(Credential::certificate).toList(), e);
    } finally {
      all.forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
    written += batch.value().size();
    progress.files(written, clients.size());
  }

  private List<FileItem> items(
      ClientList.Client client, Credential credential, Optional<OutputProtection> common) {
    Destination destination = new Destination(job.file(client), job.format(), false);
    OutputProtection guard = common.orElseGet(() -> own(client));
    try {
      EncodedFile file =
          IssueJob.conversion(destination, job.result(), credential, client.file(), job.withRoot())
              .encode(
                  String.valueOf(destination.path().getFileName()),
                  guard.wrapping(),
                  new SecureRandom());
      List<FileItem> items = new ArrayList<>(guard.passwordFiles());
      items.add(
          new FileItem(
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
}
