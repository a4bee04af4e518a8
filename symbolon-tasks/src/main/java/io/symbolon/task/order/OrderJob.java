// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.configure.ServerReport;
import io.symbolon.format.Format;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.server.Server;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.SealSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.NamedFiles;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Which certificate is ordered, from whom, and where it goes.
 *
 * @param account how the account is found or made
 * @param hosts the hosts that it is for; none where a file says it
 * @param like a file with what is ordered again
 * @param proofs how control of the hosts is proven
 * @param kind the kind of the key, where it is said
 * @param destination where key and certificate go
 * @param format the format that was said, where one was
 * @param alias the alias in a keystore, where it is said
 * @param root the name of the root that the chain shall lead to
 * @param server the server that takes the new files, where one is named
 * @param home where the settings of that server are
 * @param result how the result is written
 * @param shownBy the server that is given the certificate, where one is said; its renewals reach it
 * @param then programs of one's own that are started for each new certificate
 */
public record OrderJob(
    AccountSource account,
    List<HostName> hosts,
    Optional<Path> like,
    Proofs proofs,
    Optional<KeyKind> kind,
    Destination destination,
    Optional<Format> format,
    Optional<String> alias,
    Optional<String> root,
    Optional<Server> server,
    Optional<Path> home,
    ResultOptions result,
    Optional<ConfigureJob> shownBy,
    List<Path> then) {
  /** One that no server is given by the way. */
  public OrderJob(
      AccountSource account,
      List<HostName> hosts,
      Optional<Path> like,
      Proofs proofs,
      Optional<KeyKind> kind,
      Destination destination,
      Optional<Format> format,
      Optional<String> alias,
      Optional<String> root,
      Optional<Server> server,
      Optional<Path> home,
      ResultOptions result) {
    this(
        account,
        hosts,
        like,
        proofs,
        kind,
        destination,
        format,
        alias,
        root,
        server,
        home,
        result,
        Optional.empty(),
        List.of());
  }

  /**
   * Checks that it has hosts, and a place for a private key.
   *
   * @throws WrongJob if it has not
   */
  public OrderJob {
    hosts = List.copyOf(hosts);
    then = List.copyOf(then);
    if (!destination.target().holdsKeys()) {
      throw new WrongJob(
          destination.shown() + " is not a file for a private key and its chain.",
          "Name a keystore or PEM file, such as " + Input.INTO.mention("ingest.p12") + ".");
    }
    if (hosts.isEmpty() && like.isEmpty()) {
      throw new WrongJob("No host is given.", "Name each with " + Input.HOST.mention("NAME") + ".");
    }
    if (home.isPresent() && server.isEmpty()) {
      throw new WrongJob(
          Input.HOME.mention() + " is given, and no server.",
          "Name it as well: " + Input.RELOAD.mention("SERVER"));
    }
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param hosts the hosts that it is for
   * @param into where key and certificate go
   */
  public static Builder of(AccountSource account, Collection<HostName> hosts, Destination into) {
    return new Builder(account, hosts, into);
  }

  /**
   * Orders, writes and has the server take it. What is begun is on record before the authority is
   * asked: the same job goes on with it.
   *
   * @param run what it is done in
   * @return what was obtained
   * @throws io.symbolon.failure.SymbolonException if it was refused, or can't be written
   */
  public OrderReport run(TaskRun run) {
    OrderJob whole = OrderWork.complete(run, this);
    whole.shownBy().ifPresent(job -> check(run, job)); // before anybody is asked
    OrderAccount opened = OrderAccount.open(run, whole.account());
    OrderWork work = new OrderWork(run, opened, whole);
    return opened.folder().holding(() -> work.run(work.standing(), true));
  }

  /** Refuses a server that is not there, or whose settings can't be read. */
  private static void check(TaskRun run, ConfigureJob job) {
    ServerReport unused = job.with(NamedFiles.of()).wishing(job.wish().withoutSite()).read(run);
  }

  /** The same with the hosts that a file named. */
  OrderJob with(List<HostName> named, Optional<KeyKind> like) {
    return new OrderJob(
        account,
        named,
        Optional.empty(),
        proofs,
        kind.or(() -> like),
        destination,
        format,
        alias,
        root,
        server,
        home,
        result,
        shownBy,
        then);
  }

  /** The sources of passwords that open what is there already. */
  List<PasswordSource> unlock() {
    List<PasswordSource> all = new ArrayList<>(account.unlock());
    result
        .seal()
        .filter(PasswordSource.class::isInstance)
        .map(PasswordSource.class::cast)
        .filter(one -> !one.name().isEmpty())
        .ifPresent(all::add);
    return all;
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final AccountSource account;
    private final List<HostName> hosts;
    private final Destination destination;
    private @Nullable Path like;
    private Proofs proofs = Proofs.USUAL;
    private @Nullable KeyKind kind;
    private @Nullable Format format;
    private @Nullable String alias;
    private @Nullable String root;
    private @Nullable Server server;
    private @Nullable Path home;
    private ResultOptions result = ResultOptions.USUAL;
    private @Nullable ConfigureJob shownBy;
    private final List<Path> then = new ArrayList<>();

    private Builder(AccountSource account, Collection<HostName> hosts, Destination destination) {
      this.account = account;
      this.hosts = List.copyOf(hosts);
      this.destination = destination;
    }

    /** For the hosts that a certificate or keystore has. */
    public Builder like(Path file) {
      like = file;
      return this;
    }

    /** How control of the hosts is proven. */
    public Builder proofs(Proofs said) {
      proofs = said;
      return this;
    }

    /** The kind of the key; ec-p256, where it is not said. */
    public Builder keyKind(KeyKind said) {
      kind = said;
      return this;
    }

    /** The format that was said; otherwise a keystore that is there keeps its own. */
    public Builder format(Format said) {
      format = said;
      return this;
    }

    /** The alias in a keystore; the host, where it is not said. */
    public Builder alias(String said) {
      alias = said;
      return this;
    }

    /** The name of the root that the chain shall lead to. */
    public Builder root(String name) {
      root = name;
      return this;
    }

    /** The server that takes the new files. */
    public Builder reload(Server said) {
      server = said;
      return this;
    }

    /** Where the settings of that server are. */
    public Builder home(Path path) {
      home = path;
      return this;
    }

    /**
     * The server that is given the certificate, and what else is wanted of it; it is reloaded, and
     * seen to show it. Renewals of the account reach it.
     */
    public Builder shownBy(ConfigureJob said) {
      shownBy = said;
      return this;
    }

    /** A program of one's own that is started for each new certificate. */
    public Builder then(Path program) {
      then.add(program);
      return this;
    }

    /** How the result is written. */
    public Builder result(ResultOptions said) {
      result = said;
      return this;
    }

    /** Sealed with this, and otherwise as usual. */
    public Builder seal(SealSource seal) {
      return result(ResultOptions.sealedWith(seal));
    }

    /**
     * {@return the job}
     *
     * @throws WrongJob if it has no host, or no place for a private key
     */
    public OrderJob build() {
      return new OrderJob(
          account,
          hosts,
          Optional.ofNullable(like),
          proofs,
          Optional.ofNullable(kind),
          destination,
          Optional.ofNullable(format),
          Optional.ofNullable(alias),
          Optional.ofNullable(root),
          Optional.ofNullable(server),
          Optional.ofNullable(home),
          result,
          Optional.ofNullable(shownBy),
          then);
    }
  }
}
