// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.chain.Credential;
import io.symbolon.configure.ServerChange;
import io.symbolon.configure.ServerTls;
import io.symbolon.file.FileItem;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.Wish;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.place.Obtained;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.place.Recording;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The place of a change as an account keeps it on record, to renew its certificate there. */
final class RenewedPlace {
  private final Optional<Path> home;
  private final NamedFiles files;
  private final Wish wish;
  private final ServerTls tls;
  private final List<Obtained> obtained;
  private final Recording recording;

  /**
   * A place.
   *
   * @param home where the server's settings are, where that was said
   * @param files what the change is made of
   * @param wish what else was wanted
   * @param tls the server
   * @param obtained what accounts obtained of what the place shows
   */
  RenewedPlace(
      Optional<Path> home, NamedFiles files, Wish wish, ServerTls tls, List<Obtained> obtained) {
    this.home = home;
    this.files = files;
    this.wish = wish;
    this.tls = tls;
    this.obtained = obtained;
    this.recording = new Recording(obtained);
  }

  /** The folders of the accounts that renew it. */
  List<Path> accounts() {
    return recording.folders();
  }

  List<Finding> findings() {
    return recording.findings();
  }

  /** The files that put it on record. */
  List<FileItem> items(ServerChange change) {
    return obtained.isEmpty() ? List.of() : recording.items(place(change));
  }

  private PlacesRecord.Place place(ServerChange change) {
    TlsPlace place = change.place().place();
    Set<Path> credential = new LinkedHashSet<>();
    obtained.forEach(one -> credential.addAll(one.files(files.credential())));
    List<PasswordSource> unlock = new ArrayList<>(files.unlock());
    obtained.forEach(one -> one.job().seal().ifPresent(unlock::add));
    return new PlacesRecord.Place(
        change.installation().server(),
        whole(home.orElse(change.installation().main())),
        wish.site().orElse(place.name()),
        port(place).orElse(null),
        wish.hosts().stream().map(HostName::typed).toList(),
        wish.folder().map(RenewedPlace::whole).orElse(null),
        wish.form().orElse(null),
        wish.owner().map(RenewedPlace::text).orElse(null),
        wish.mayChange(),
        credential.stream().map(RenewedPlace::whole).toList(),
        unlock.stream().distinct().map(RenewedPlace::source).toList(),
        change.place().credentials().stream()
            .map(Credential::certificate)
            .map(one -> one.sha256())
            .toList());
  }

  /** The port, where another place has the same name. */
  private Optional<Integer> port(TlsPlace place) {
    boolean several =
        tls.read().places().stream().filter(one -> one.place().name().equals(place.name())).count()
            > 1;
    return several
        ? place.endpoints().stream().filter(Endpoint::tls).map(Endpoint::port).findFirst()
        : Optional.empty();
  }

  private static String whole(Path path) {
    return path.toAbsolutePath().normalize().toString();
  }

  private static String text(Owner owner) {
    return owner.user() + owner.group().map(group -> ":" + group).orElse("");
  }

  private static PlacesRecord.Source source(PasswordSource source) {
    boolean file = source.kind() == PasswordSource.Kind.FILE;
    return new PlacesRecord.Source(
        source.kind().word(), file ? whole(Path.of(source.name())) : source.name());
  }
}
