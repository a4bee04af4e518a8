// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.chain.Credential;
import io.symbolon.configure.PlaceReport;
import io.symbolon.configure.ShownNow;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.join.JoinOptions;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.wish.Wish;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** A place of a server that an account has on record: looked at, and configured again. */
public final class RecordedPlace {
  private final PlacesRecord.Place place;
  private final ConfigureJob job;

  private RecordedPlace(PlacesRecord.Place place, ConfigureJob job) {
    this.place = place;
    this.job = job;
  }

  /**
   * {@return a place that is on record}
   *
   * @throws SymbolonException if its server is not known, or what is stored of it is damaged
   */
  public static RecordedPlace of(PlacesRecord.Place place) {
    return new RecordedPlace(place, job(place));
  }

  /** {@return what gives it its certificate again; its mode and whom it trusts stay as they are} */
  public ConfigureJob job() {
    return job;
  }

  /**
   * {@return the place as the server's settings are now; nothing where it is not there any more}
   *
   * @throws SymbolonException if the settings can't be read
   */
  public Optional<PlaceReport> read(TaskRun run) {
    return job.read(run).places().stream()
        .filter(
            one ->
                place.port() == null
                    || one.place().endpoints().stream().anyMatch(end -> end.port() == place.port()))
        .findFirst();
  }

  /** {@return the fingerprints of the certificates in the files that a place names} */
  public static Set<String> leaves(PlaceReport report) {
    return report.credentials().stream()
        .map(Credential::certificate)
        .map(Certificate::sha256)
        .collect(Collectors.toSet());
  }

  /** {@return what the running server shows there; nothing where nobody answers with one} */
  public Optional<Certificate> running(TaskRun run, PlaceReport report) {
    return ShownNow.at(report.place(), job.wish().hosts(), run.around().clock());
  }

  private static ConfigureJob job(PlacesRecord.Place place) {
    Server server =
        Servers.named(place.server())
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.UNSUPPORTED,
                        "The server was not looked at.",
                        "This Symbolon does not know the server '"
                            + VisibleText.of(place.server())
                            + "'.",
                        "Give it the certificate by hand."));
    NamedFiles files =
        new NamedFiles(
            place.credential().stream().map(Path::of).toList(),
            List.of(),
            List.of(),
            List.of(),
            JoinOptions.standard(),
            all(place.unlock()).stream().map(RecordedPlace::source).toList());
    Wish wish =
        Wish.of()
            .withSite(place.site())
            .withHosts(all(place.hosts()).stream().map(HostName::parse).toList())
            .withMayChange(all(place.mayChange()));
    if (place.port() != null) {
      wish = wish.withPort(place.port());
    }
    if (place.folder() != null) {
      wish = wish.withFolder(Path.of(place.folder()));
    }
    if (place.form() != null) {
      wish = wish.withForm(place.form());
    }
    if (place.owner() != null) {
      wish = wish.withOwner(Owner.parse(place.owner()));
    }
    return ConfigureJob.of(server)
        .at(Path.of(place.home()))
        .with(files)
        .wishing(wish)
        .withoutRenewal();
  }

  private static PasswordSource source(PlacesRecord.Source source) {
    return new PasswordSource(
        PasswordSource.Kind.ofWord(source.from()), source.name() == null ? "" : source.name());
  }

  private static <T> List<T> all(@Nullable List<T> list) {
    return list == null ? List.of() : list;
  }
}
