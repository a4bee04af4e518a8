// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import com.fasterxml.jackson.annotation.JsonPropertyDescription;
import io.symbolon.cli.output.CommandText;
import io.symbolon.configure.ChangeResult;
import io.symbolon.configure.ClientChange;
import io.symbolon.configure.FileDiff;
import io.symbolon.configure.PlaceProbe;
import io.symbolon.configure.PlaceReport;
import io.symbolon.configure.ServerChange;
import io.symbolon.configure.ServerReport;
import io.symbolon.configure.TrialStep;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.server.ClientKind;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.task.configure.ChangeReport;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The document of configure. */
public record ConfigureDocument(
    String command,
    @JsonPropertyDescription("The servers, with their settings as they are.") List<Server> servers,
    @JsonPropertyDescription("What would change, or was changed.") Optional<Change> change,
    @JsonPropertyDescription("A client's settings, as they would be or were written.")
        Optional<Client> client,
    @JsonPropertyDescription("With --list: the servers that Symbolon knows.")
        Optional<List<Known>> known,
    @JsonPropertyDescription("With --list: the clients that Symbolon knows.")
        Optional<List<KnownClient>> knownClients,
    @JsonPropertyDescription("With --try: what was tried, step by step.")
        Optional<List<Tried>> tried,
    List<FindingDocument> findings) {
  /** A document that neither lists what is known nor tries anything. */
  public ConfigureDocument(
      String command,
      List<Server> servers,
      Optional<Change> change,
      Optional<Client> client,
      List<FindingDocument> findings) {
    this(
        command,
        servers,
        change,
        client,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        findings);
  }

  /** A server that Symbolon knows. */
  public record Known(
      @JsonPropertyDescription("The name by which it is chosen.") String server,
      String title,
      @JsonPropertyDescription("Whether a description says how it is, and no code of its own.")
          boolean described,
      @JsonPropertyDescription("The settings files that were found on this machine.")
          List<String> found) {
    /** One with what was found of it. */
    public static Known of(io.symbolon.server.Server server, List<Path> found) {
      return new Known(
          server.name(),
          server.title(),
          server.isDescribed(),
          found.stream().map(Path::toString).toList());
    }
  }

  /** A client that Symbolon knows. */
  public record KnownClient(String client, String title) {
    /** One of them. */
    public static KnownClient of(ClientKind client) {
      return new KnownClient(client.name(), client.title());
    }
  }

  /** A step of a trial. */
  public record Tried(
      @JsonPropertyDescription("one-way, optional or mutual.") String mode,
      @JsonPropertyDescription(
              "Whether it is read back as it was wanted, and a second time changes nothing.")
          boolean asWanted,
      List<ChangedFile> files,
      List<FindingDocument> findings) {}

  /** The document of what is known. */
  public static ConfigureDocument ofKnown(List<Known> servers, List<KnownClient> clients) {
    return new ConfigureDocument(
        "configure",
        List.of(),
        Optional.empty(),
        Optional.empty(),
        Optional.of(servers),
        Optional.of(clients),
        Optional.empty(),
        List.of());
  }

  /** The document of a trial. */
  public static ConfigureDocument ofTrial(List<TrialStep> steps, CommandText commands) {
    List<Tried> tried =
        steps.stream()
            .map(
                step ->
                    new Tried(
                        step.mode().word(),
                        step.isGood(),
                        step.changes().stream().map(ChangedFile::of).toList(),
                        FindingDocument.all(step.problems(), commands)))
            .toList();
    return new ConfigureDocument(
        "configure",
        List.of(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.of(tried),
        FindingDocument.all(
            steps.stream().flatMap(step -> step.problems().stream()).toList(), commands));
  }

  /** A server on this machine. */
  public record Server(
      @JsonPropertyDescription("The name by which it is chosen.") String server,
      String title,
      String home,
      @JsonPropertyDescription("The settings file that is read first.") String main,
      @JsonPropertyDescription("The settings files that were read.") List<String> files,
      List<Place> places,
      List<FindingDocument> findings) {
    private static Server of(ServerReport report, CommandText commands) {
      return new Server(
          report.installation().server(),
          report.title(),
          report.installation().home().toString(),
          report.installation().main().toString(),
          report.files().stream().map(Path::toString).toList(),
          report.places().stream().map(place -> Place.of(place, commands)).toList(),
          FindingDocument.all(report.findings(), commands));
    }
  }

  /** A place where a server speaks TLS, or could. */
  public record Place(
      @JsonPropertyDescription("The name by which it is chosen.") String name,
      @JsonPropertyDescription("What the server's documents call it.") String kind,
      @JsonPropertyDescription("The settings file and the line.") String where,
      @JsonPropertyDescription(
              "clear, one-way, optional or mutual; passed-on where what is behind speaks TLS;"
                  + " rejecting where every handshake is refused; unknown where the settings are not"
                  + " understood.")
          String mode,
      List<Address> addresses,
      List<String> hosts,
      List<File> files,
      @JsonPropertyDescription("The chains that it shows, one for each of its keys.")
          List<List<CertificateDocument>> shows,
      @JsonPropertyDescription("Whose clients it trusts.") List<CertificateDocument> trusts,
      @JsonPropertyDescription("The protocol versions in force, in the server's words.")
          Optional<String> protocols,
      @JsonPropertyDescription("The cipher suites in force, in the server's words.")
          Optional<String> ciphers,
      @JsonPropertyDescription("The account that reads its files.") Optional<String> account,
      List<FindingDocument> findings) {
    private static Place of(PlaceReport report, CommandText commands) {
      TlsPlace place = report.place();
      return new Place(
          place.name(),
          place.kind(),
          place.origin().toString(),
          place.isKnown(Aspect.MODE) ? place.mode().word() : "unknown",
          place.endpoints().stream().map(Address::of).toList(),
          place.hosts(),
          place.files().stream().map(File::of).distinct().toList(),
          report.credentials().stream()
              .map(one -> one.chain().stream().map(CertificateDocument::of).toList())
              .toList(),
          report.trust().stream().map(CertificateDocument::of).toList(),
          place.protocols(),
          place.ciphers(),
          place.account(),
          FindingDocument.all(report.findings(), commands));
    }
  }

  /** An address that a server listens on. */
  public record Address(
      @JsonPropertyDescription("Empty for every address of the machine.") String host,
      int port,
      boolean tls) {
    private static Address of(Endpoint endpoint) {
      return new Address(endpoint.host(), endpoint.port(), endpoint.tls());
    }
  }

  /** A file that the settings name. */
  public record File(
      String role,
      String path,
      String setting,
      String where,
      @JsonPropertyDescription("The one entry of a store that counts, where one is named.")
          Optional<String> alias) {
    private static File of(UsedFile file) {
      return new File(
          file.role().name().toLowerCase(java.util.Locale.ROOT),
          file.path().toString(),
          file.setting(),
          file.origin().toString(),
          file.alias());
    }
  }

  /** A change. */
  public record Change(
      @JsonPropertyDescription(
              "refused; shown; nothing, where all is as it is wanted; written; running, where the"
                  + " server was reloaded and does what is wanted; put-back.")
          String end,
      @JsonPropertyDescription("The place as it would be.") Place place,
      List<ChangedFile> files,
      @JsonPropertyDescription("What the server's own programs do before.") List<String> steps,
      @JsonPropertyDescription("The handshakes that were rehearsed.") List<Rehearsed> rehearsed,
      @JsonPropertyDescription("What the server's own check printed.") Optional<String> check,
      @JsonPropertyDescription("What the running server answered.") List<Answer> answers,
      @JsonPropertyDescription(
              "The folders of the accounts (order) whose renewals reach this server.")
          List<String> renewedBy) {
    private static Change of(
        ServerChange change,
        Optional<ChangeResult> result,
        List<Path> accounts,
        CommandText commands) {
      String end =
          result
              .map(one -> Words.of(one.end()))
              .orElse(change.isRefused() ? "refused" : change.isNothing() ? "nothing" : "shown");
      return new Change(
          end,
          Place.of(change.place(), commands),
          change.files().stream().map(ChangedFile::of).toList(),
          change.steps().stream()
              .map(step -> commands.shell().fed(step.command().input(), step.command().line()))
              .toList(),
          change.rehearsed().stream()
              .map(one -> new Rehearsed(one.client(), one.accepted()))
              .toList(),
          result.flatMap(ChangeResult::check).map(check -> check.output().strip()),
          result.map(ChangeResult::probes).orElse(List.of()).stream().map(Answer::of).toList(),
          accounts.stream().map(Path::toString).toList());
    }
  }

  /** A file that is made or replaced. */
  public record ChangedFile(
      String path,
      boolean fresh,
      @JsonPropertyDescription("What it holds.") String holds,
      @JsonPropertyDescription("The unified diff of a settings file.")
          Optional<List<String>> diff) {
    private static ChangedFile of(FileChange change) {
      return new ChangedFile(
          change.path().toString(),
          change.before().isEmpty(),
          change.holds(),
          change.settings() ? Optional.of(FileDiff.lines(change)) : Optional.empty());
    }
  }

  /** A handshake that was rehearsed. */
  public record Rehearsed(
      String client,
      @JsonPropertyDescription("Whether both sides accept each other.") boolean accepted) {}

  /** What the running server answered, and who asked. */
  public record Answer(
      String client, boolean asWanted, Optional<String> protocol, Optional<String> cipherSuite) {
    private static Answer of(PlaceProbe.Answer answer) {
      return new Answer(
          answer.client(),
          answer.isAsWanted(),
          answer.report().flatMap(report -> report.protocol()),
          answer.report().flatMap(report -> report.cipherSuite()));
    }
  }

  /** The document of servers as they are. */
  public static ConfigureDocument of(
      List<ServerReport> reports, List<Finding> findings, CommandText commands) {
    Set<Finding> all = new LinkedHashSet<>(findings);
    reports.forEach(report -> all.addAll(report.allFindings()));
    return new ConfigureDocument(
        "configure",
        reports.stream().map(report -> Server.of(report, commands)).toList(),
        Optional.empty(),
        Optional.empty(),
        FindingDocument.all(new ArrayList<>(all), commands));
  }

  /** The document of a change. */
  public static ConfigureDocument of(ChangeReport report, CommandText commands) {
    return new ConfigureDocument(
        "configure",
        List.of(),
        Optional.of(Change.of(report.change(), report.result(), report.accounts(), commands)),
        Optional.empty(),
        FindingDocument.all(report.findings(), commands));
  }

  /** The document of a client's settings. */
  public static ConfigureDocument of(
      ClientChange change,
      Optional<List<WrittenItem>> written,
      List<Finding> findings,
      CommandText commands) {
    return new ConfigureDocument(
        "configure",
        List.of(),
        Optional.empty(),
        Optional.of(Client.of(change, written.isPresent())),
        FindingDocument.all(findings, commands));
  }

  /** A program that opens connections. */
  public record Client(
      String title,
      @JsonPropertyDescription("refused; shown; nothing, where all is as it is wanted; written.")
          String end,
      @JsonPropertyDescription("The authorities that were named.") List<CertificateDocument> trusts,
      @JsonPropertyDescription("The chain that it shows.") List<CertificateDocument> shows,
      List<ChangedFile> files,
      @JsonPropertyDescription("The handshakes that were rehearsed, by the names of servers.")
          List<Rehearsed> rehearsed,
      @JsonPropertyDescription("What the server itself answered.") Optional<Answer> answer,
      @JsonPropertyDescription("How the settings are used.") List<Use> uses) {
    private static Client of(ClientChange change, boolean written) {
      String end =
          change.isRefused()
              ? "refused"
              : change.isNothing() ? "nothing" : written ? "written" : "shown";
      return new Client(
          change.title(),
          end,
          change.trust().stream().map(CertificateDocument::of).toList(),
          change
              .client()
              .credential()
              .map(own -> own.chain().stream().map(CertificateDocument::of).toList())
              .orElse(List.of()),
          change.files().stream().map(ChangedFile::of).toList(),
          change.rehearsed().stream()
              .map(one -> new Rehearsed(one.client(), one.accepted()))
              .toList(),
          change
              .answer()
              .map(
                  report ->
                      new Answer(
                          report.address(),
                          !change.isRefused(),
                          report.protocol(),
                          report.cipherSuite())),
          change.uses().stream().map(use -> new Use(use.what(), use.line())).toList());
    }
  }

  /** A way to use a client's settings. */
  public record Use(
      @JsonPropertyDescription("For what.") String what,
      @JsonPropertyDescription("The line to be pasted there.") String line) {}
}
