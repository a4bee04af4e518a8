// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.NewPassword;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.format.Format;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.server.Server;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.task.renewal.RenewalJob;
import io.symbolon.task.renewal.RenewalText;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** An order as it is stored for its renewals, with whole paths and without what is done once. */
final class StoredRenewal {
  private StoredRenewal() {}

  /** What is stored of a certificate that an account has; nothing where it is damaged. */
  static Optional<RenewalJob> of(Standing standing) {
    try {
      return Optional.of(RenewalText.read(standing.job()));
    } catch (SymbolonException e) {
      return Optional.empty(); // told when it is renewed
    }
  }

  /** What an earlier version stored is stored anew, in the form of today. */
  static Standing today(AccountFolder folder, Standing standing) {
    try {
      if (RenewalText.isToday(standing.job())) {
        return standing;
      }
      Standing anew = standing.with(RenewalText.write(RenewalText.read(standing.job())));
      folder.save(anew);
      return anew;
    } catch (SymbolonException e) {
      return standing; // told when it is renewed
    }
  }

  /** Where a certificate goes. */
  static String place(Standing standing) {
    return of(standing).map(job -> job.path().toString()).orElse("");
  }

  static String whole(Path path) {
    return path.toAbsolutePath().normalize().toString();
  }

  static RenewalJob of(OrderJob order) {
    ResultOptions result = order.result();
    Path path = order.destination().path();
    RenewalJob.Builder job = RenewalJob.of(order.hosts(), Path.of(whole(path)));
    if (order.destination().folder()) {
      job.folder();
    }
    order.format().ifPresent(said -> job.format(order.destination().target()));
    order.alias().ifPresent(job::alias);
    result.owner().ifPresent(job::owner);
    order.kind().ifPresent(job::keyKind);
    if (result.unsealed()) {
      job.unsealed(result.keyForm());
    }
    result.seal().ifPresent(one -> job.seal(source(one)));
    result.sealKey().ifPresent(one -> job.keySeal(source(one)));
    result.protection().ifPresent(job::strength);
    job.newPassword(result.newPassword().recipe(), result.newPassword().lineEnd());
    order.account().unlock().forEach(one -> job.unlock(source(one)));
    order.root().ifPresent(job::root);
    order.proofs().ways().forEach(way -> job.proof(whole(way)));
    order.proofs().dnsKey().ifPresent(file -> job.dnsKey(Path.of(whole(file))));
    order.server().map(Server::name).ifPresent(job::server);
    order.home().ifPresent(home -> job.home(Path.of(whole(home))));
    return job.build();
  }

  private static ProofWay whole(ProofWay way) {
    return way.kind().takesPath()
        ? new ProofWay(way.kind(), whole(GivenOptions.path(way.value())))
        : way;
  }

  /** A password that is made once is read from its file later. */
  private static PasswordSource source(SecretSource source) {
    boolean file = source.kind().equals("file") || source.kind().equals("new");
    return file
        ? new PasswordSource(PasswordSource.Kind.FILE, whole(GivenOptions.path(source.name())))
        : new PasswordSource(PasswordSource.Kind.ofWord(source.kind()), source.name());
  }

  private static SecretSource source(String option, PasswordSource source) {
    return new SecretSource(option, source.kind().word(), source.name());
  }

  /** The order of a renewal, for the account in a folder. */
  static OrderJob order(RenewalJob job, Path account) {
    Destination destination =
        Destination.of(job.path() + (job.isFolder() ? "/" : ""), job.format().map(Format::word))
            .ownedBy(job.owner());
    PasswordRecipe recipe = job.recipe();
    return new OrderJob(
        new OrderAccount.Wish(
            account,
            Optional.empty(),
            List.of(),
            List.of(),
            false,
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            job.unlock().stream().map(one -> source("--unlock", one)).toList()),
        job.hosts(),
        Optional.empty(),
        new ProofOptions(job.proofs(), job.dnsKey()),
        job.keyKind().map(KeyKind::word).map(io.symbolon.cli.frame.KeyTypes::parse),
        destination,
        job.format().map(Format::word),
        job.alias(),
        job.root(),
        job.server().map(OrderJob::server),
        job.home(),
        new ResultOptions(
            Existing.KEEP,
            job.owner(),
            job.keyForm(),
            job.isUnsealed(),
            job.seal().map(one -> source("--seal", one)),
            job.keySeal().map(one -> source("--seal-key", one)),
            new NewPassword(recipe, job.hasLineEnd()),
            job.strength()));
  }
}
