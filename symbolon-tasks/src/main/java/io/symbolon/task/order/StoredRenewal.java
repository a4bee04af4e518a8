// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.format.Format;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.task.GivenPassword;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.WrongJob;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.task.renewal.RenewalJob;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.NewPassword;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.words.Wording;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** An order as it is stored for its renewals, with whole paths and without what is done once. */
public final class StoredRenewal {
  private StoredRenewal() {}

  /** What is stored of a certificate that an account has; nothing where it is damaged. */
  public static Optional<RenewalJob> of(Standing standing) {
    try {
      return Optional.of(RenewalText.read(standing.job()));
    } catch (SymbolonException e) {
      return Optional.empty(); // told when it is renewed
    }
  }

  /** What an earlier version stored is stored anew, in the form of today. */
  public static Standing today(AccountFolder folder, Standing standing) {
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
  public static String place(Standing standing) {
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
    return way.kind().takesPath() ? new ProofWay(way.kind(), whole(Path.of(way.value()))) : way;
  }

  /** A password that is made once is read from its file later. */
  static PasswordSource source(SealSource source) {
    if (source instanceof NewPasswordFile made) {
      return PasswordSource.file(Path.of(whole(made.path())));
    }
    if (source instanceof GivenPassword) {
      throw new WrongJob(
          "The password of the result is in memory alone, and a renewal needs it again.",
          "Give it as a file or a variable, or let one be made in a file.");
    }
    PasswordSource known = (PasswordSource) source;
    return known.kind() == PasswordSource.Kind.FILE
        ? PasswordSource.file(Path.of(whole(Path.of(known.name()))))
        : known;
  }

  /** The order of a renewal, for the account in a folder. */
  public static OrderJob order(RenewalJob job, Path account) {
    Destination destination = destination(job).ownedBy(job.owner());
    PasswordRecipe recipe = job.recipe();
    return new OrderJob(
        AccountSource.of(account, job.unlock()),
        job.hosts(),
        Optional.empty(),
        new Proofs(job.proofs(), job.dnsKey()),
        job.keyKind(),
        destination,
        job.format(),
        job.alias(),
        job.root(),
        job.server().map(StoredRenewal::server),
        job.home(),
        new ResultOptions(
            Existing.KEEP,
            job.owner(),
            job.keyForm(),
            job.isUnsealed(),
            job.seal().map(SealSource.class::cast),
            job.keySeal().map(SealSource.class::cast),
            new NewPassword(recipe, job.hasLineEnd()),
            job.strength()));
  }

  private static Destination destination(RenewalJob job) {
    boolean folder = job.isFolder() || Files.isDirectory(job.path());
    return job.format()
        .map(format -> Destination.of(job.path(), format, folder))
        .orElseGet(
            () ->
                folder ? Destination.of(job.path(), Format.PEM, true) : Destination.of(job.path()));
  }

  private static Server server(String name) {
    return Servers.named(name)
        .orElseThrow(
            () ->
                new WrongJob(
                    "There is no server '" + Wording.shown(name) + "'.",
                    "Symbolon of this version does not know it."));
  }
}
