// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postfix;

import io.symbolon.lossless.SourceText;
import io.symbolon.probe.StartWith;
import io.symbolon.server.InheritingPlaces;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.NotUnderstood;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.Placeholders;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * The services of a Postfix that receive mail: each has what main.cf says, but for the settings of
 * its own in master.cf. The first one is the described place.
 */
public final class MasterServices implements InheritingPlaces {
  private static final String TLS = "smtpd_tls_";

  /** Settings of a service that count instead of those of main.cf. */
  private static final Set<String> COUNTING =
      Set.of(
          TLS + "security_level",
          TLS + "ask_ccert",
          TLS + "req_ccert",
          TLS + "cert_file",
          TLS + "key_file",
          TLS + "chain_files",
          TLS + "eccert_file",
          TLS + "CAfile",
          TLS + "protocols",
          TLS + "mandatory_protocols");

  private static final Map<String, Integer> PORTS =
      Map.of("smtp", 25, "submission", 587, "smtps", 465, "submissions", 465);

  /** Made by the registry of services. */
  public MasterServices() {}

  @Override
  public String server() {
    return "postfix";
  }

  @Override
  public Read read(
      Machine machine,
      Installation installation,
      Function<Path, Optional<SourceText>> files,
      Function<String, Optional<String>> settings) {
    Optional<SourceText> source = files.apply(installation.home().resolve("master.cf"));
    if (source.isEmpty()) {
      return Read.NOTHING;
    }
    List<MasterLine> services =
        new ArrayList<>(
            MasterLine.read(source.get()).stream()
                .filter(line -> line.command().equals("smtpd") || line.command().endsWith("/smtpd"))
                .toList());
    Optional<MasterLine> main =
        services.stream()
            .filter(line -> line.name().equals("smtp") || line.name().endsWith(":smtp"))
            .findFirst()
            .or(() -> services.stream().findFirst());
    main.ifPresent(services::remove);
    List<NotUnderstood> aboutMain = new ArrayList<>();
    main.flatMap(line -> line.settings().keySet().stream().filter(COUNTING::contains).findFirst())
        .ifPresent(
            key ->
                aboutMain.add(
                    new NotUnderstood(
                        Aspect.MODE,
                        origin(source.get(), main.get()),
                        "The service "
                            + VisibleText.of(main.get().name())
                            + " has its own "
                            + VisibleText.of(key)
                            + " in master.cf, which counts instead of main.cf.",
                        "Take it out of master.cf, or change it by hand.")));
    List<TlsPlace> places = new ArrayList<>();
    for (MasterLine line : services) {
      places.add(place(machine, installation, source.get(), line, settings));
    }
    return new Read(places, aboutMain);
  }

  private static Origin origin(SourceText source, MasterLine line) {
    return new Origin(source.path(), source.line(line.from()));
  }

  private static TlsPlace place(
      Machine machine,
      Installation installation,
      SourceText source,
      MasterLine line,
      Function<String, Optional<String>> settings) {
    Placeholders names =
        Placeholders.of(
            Placeholders.Syntax.POSTFIX,
            name -> Optional.ofNullable(line.settings().get(name)).or(() -> settings.apply(name)));
    Function<String, String> value =
        key ->
            Optional.ofNullable(line.settings().get(key))
                .map(names::known)
                .or(() -> settings.apply(key))
                .orElse("");
    boolean wrapped = value.apply(TLS + "wrappermode").equalsIgnoreCase("yes");
    String level = value.apply(TLS + "security_level").toLowerCase(Locale.ROOT);
    String certificate = value.apply(TLS + "cert_file");
    boolean tls =
        !certificate.isEmpty() && (wrapped || level.equals("may") || level.equals("encrypt"));
    Mode mode = tls ? mode(value, wrapped || level.equals("encrypt")) : Mode.CLEAR;
    Origin origin = origin(source, line);
    List<NotUnderstood> unknown = new ArrayList<>();
    for (String key : COUNTING) {
      String said = value.apply(key);
      boolean instead = key.endsWith("chain_files") || key.endsWith("eccert_file");
      if (said.indexOf('$') >= 0 || (instead && !said.isEmpty())) {
        unknown.add(
            new NotUnderstood(
                instead ? Aspect.CERTIFICATE : Aspect.MODE,
                origin,
                key + " of this service is " + VisibleText.of(said) + ", which is not read here.",
                "Look at it by hand: postconf -P."));
      }
    }
    List<UsedFile> files = new ArrayList<>();
    if (tls) {
      String key = value.apply(TLS + "key_file");
      add(machine, installation, files, FileRole.CERTIFICATE, certificate, "cert_file", origin);
      add(
          machine,
          installation,
          files,
          FileRole.KEY,
          key.isEmpty() ? certificate : key,
          "key_file",
          origin);
      if (mode.asksClients()) {
        String trust = value.apply(TLS + "CAfile");
        add(machine, installation, files, FileRole.TRUST, trust, "CAfile", origin);
      }
    }
    String versions =
        value.apply(TLS + (level.equals("encrypt") ? "mandatory_protocols" : "protocols"));
    return TlsPlace.at(
            PlaceId.at(source.path(), line.from()), origin, line.name(), "service of master.cf")
        .endpoints(endpoint(line, tls).stream().toList())
        .mode(mode)
        .files(files)
        .protocols(Optional.of(versions).filter(text -> tls && !text.isEmpty()))
        .account(machine.account("root"))
        .startWith(wrapped ? Optional.empty() : Optional.of(StartWith.SMTP))
        .notUnderstood(unknown)
        .build();
  }

  private static Mode mode(Function<String, String> value, boolean required) {
    if (required && value.apply(TLS + "req_ccert").equalsIgnoreCase("yes")) {
      return Mode.MUTUAL;
    }
    return value.apply(TLS + "ask_ccert").equalsIgnoreCase("yes") ? Mode.OPTIONAL : Mode.ONE_WAY;
  }

  private static void add(
      Machine machine,
      Installation installation,
      List<UsedFile> files,
      FileRole role,
      String path,
      String setting,
      Origin origin) {
    if (!path.isEmpty()) {
      files.add(
          UsedFile.of(
                  role,
                  machine.below(installation.home(), path).toAbsolutePath().normalize(),
                  TLS + setting,
                  origin)
              .readByRoot());
    }
  }

  /** Its name is a port or the name of one, perhaps behind an address. */
  private static Optional<Endpoint> endpoint(MasterLine line, boolean tls) {
    if (!line.type().equals("inet")) {
      return Optional.empty();
    }
    int colon = line.name().lastIndexOf(':');
    String port = line.name().substring(colon + 1);
    String host = colon < 0 ? "" : line.name().substring(0, colon).replaceAll("[\\[\\]]", "");
    Optional<Integer> number =
        port.matches("[1-9]\\d{0,4}")
            ? Optional.of(Integer.parseInt(port))
            : Optional.ofNullable(PORTS.get(port));
    return number.map(one -> new Endpoint(host, one, tls));
  }
}
