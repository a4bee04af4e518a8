// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.Installation;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The calls that a program on Spring Boot makes: a bundle of PEM files, which the program names
 * where it makes its client.
 */
public final class SpringClient implements ClientKind {
  private static final String BUNDLES = "spring.ssl.bundle.pem.";

  /** Made by the registry of clients. */
  public SpringClient() {}

  @Override
  public String name() {
    return "spring-client";
  }

  @Override
  public String title() {
    return "A client in Spring Boot";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    Path home = wish.home().orElse(machine.root().getFileSystem().getPath(""));
    Installation installation = new SpringBoot().at(machine, home);
    SpringFiles files = new SpringFiles(machine, installation);
    SpringProposal.checkBundles(files);
    String bundle = bundle(wish);
    Path folder = wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath();
    SpringProposal.checkFolder(folder);
    PlacedFiles placed = new PlacedFiles(machine, folder, wish.owner());
    Path file = files.main().map(main -> main.source().path()).orElse(installation.main());
    String base = FileNames.safe(bundle);
    String below = BUNDLES + bundle;
    Map<String, String> wanted = new LinkedHashMap<>();
    List<String> unwanted = new ArrayList<>();
    List<UsedFile> used = new ArrayList<>();
    Path trust =
        placed.add(
            base + "-servers.pem",
            PemFiles.certificates(new ClientTrust(wish.trust(), List.of())),
            "the authorities of the server",
            false);
    name(wanted, used, below + ".truststore.certificate", trust, FileRole.TRUST, file);
    String certificate = below + ".keystore.certificate";
    String privateKey = below + ".keystore.private-key";
    if (wish.credential().isPresent()) {
      Path chain =
          placed.add(
              base + ".pem",
              PemFiles.chain(wish.credential().get()),
              "the certificate with its chain",
              false);
      Path key =
          placed.add(
              base + ".key", PemFiles.openKey(wish.credential().get()), "the private key", true);
      name(wanted, used, certificate, chain, FileRole.CERTIFICATE, file);
      name(wanted, used, privateKey, key, FileRole.KEY, file);
    } else {
      unwanted.addAll(List.of(certificate, privateKey));
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(SpringEdits.of(installation, files, wanted, unwanted));
    return new ClientProposal(
        file,
        changes,
        PlacedFiles.newFolders(changes),
        used,
        uses(bundle),
        Optional.empty(),
        List.of());
  }

  private static String bundle(ClientWish wish) {
    String name =
        wish.name()
            .or(() -> wish.host().map(host -> host.typed().replaceFirst("\\..*", "")))
            .orElse("client");
    if (!name.matches("[A-Za-z0-9][A-Za-z0-9-]*")) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          "A bundle can't be called so: it has letters, digits and hyphens.",
          "Choose a name: " + Input.SITE.mention("NAME") + ".");
    }
    return name;
  }

  private static void name(
      Map<String, String> wanted,
      List<UsedFile> used,
      String setting,
      Path path,
      FileRole role,
      Path file) {
    wanted.put(setting, Machine.withSlashes(path));
    used.add(UsedFile.of(role, path, setting, new Origin(file, 1)));
  }

  private static List<ClientProposal.Use> uses(String bundle) {
    return List.of(
        new ClientProposal.Use(
            "in the program, with its RestClientSsl",
            "RestClient.builder().apply(ssl.fromBundle(\"" + bundle + "\")).build()"),
        new ClientProposal.Use(
            "or for every client that Spring makes, from version 3.4 on; then none trusts anybody"
                + " else",
            "spring.http.client.ssl.bundle=" + bundle));
  }
}
