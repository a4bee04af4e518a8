// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * What a rehearsal says of a server with these files, and a probe of that server as it runs, beside
 * what the server does. An ordinary run takes one case or two for each server; {@code ./check
 * --servers} takes all, and writes the table in docs/testing.md.
 */
@Tag("long") // runs with ./check --all
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ServerTableTest {
  private static final Credential SERVER = server(KeyKind.RSA_2048);
  private static final Credential EC_SERVER = server(KeyKind.EC_P256);
  private static final Credential BUOY = client(ISSUING, Use.CLIENT, Lanternfish.YEAR);

  @TempDir Path folder;

  private static Credential server(KeyKind kind) {
    return ISSUING.issue(
        Lanternfish.name(HOST),
        kind,
        List.of(HostName.parse(HOST)),
        Use.SERVER,
        NOW.minusSeconds(60),
        Lanternfish.YEAR);
  }

  private static Credential client(Authority by, Use use, Duration lasts) {
    return by.issue(
        Lanternfish.name("buoy-17"),
        KeyKind.EC_P256,
        use == Use.SERVER ? List.of(HostName.parse(HOST)) : List.of(),
        use,
        NOW.minusSeconds(60),
        lasts);
  }

  /** What is so with the files of the two sides. */
  enum Circumstance {
    GOOD("good client"),
    NONE("no client certificate"),
    FOREIGN("client of a foreign authority"),
    EXPIRED("expired client"),
    WRONG_USE("client with a server's certificate"),
    REVOKED("revoked client, all lists"),
    LISTS("good client, all lists"),
    LIST_MISSING("good client, list of the root missing"),
    LIST_MISSING_ROOT_ONLY("the same, trust is the root alone"),
    LIST_ENDED("good client, list out of date"),
    WITHOUT_ROOT("trust without the root"),
    WITHOUT_INTERMEDIATE("server's chain without the intermediate"),
    OTHER_KEY_FIRST("chain reversed, keys of two kinds"),
    SAME_KEY_FIRST("chain reversed, keys of one kind"),
    GLUED_CHAIN("chain with blocks glued together"),
    GLUED_TRUST("trust with blocks glued together"),
    SEALED_KEY("key under a password that is not told");

    private final String title;

    Circumstance(String title) {
      this.title = title;
    }

    private Optional<Credential> shownBy() {
      return switch (this) {
        case NONE -> Optional.empty();
        case FOREIGN ->
            Optional.of(
                client(
                    Authority.root(
                        Lanternfish.name("Stranger Root"),
                        KeyKind.EC_P256,
                        NOW,
                        Lanternfish.YEAR,
                        Lanternfish.RANDOM),
                    Use.CLIENT,
                    Duration.ofDays(30)));
        case EXPIRED -> Optional.of(client(ISSUING, Use.CLIENT, Duration.ofSeconds(30)));
        case WRONG_USE -> Optional.of(client(ISSUING, Use.SERVER, Lanternfish.YEAR));
        default -> Optional.of(BUOY);
      };
    }

    private ServerFiles files(Path folder) {
      Credential credential = this == SAME_KEY_FIRST ? EC_SERVER : SERVER;
      byte[] chain =
          switch (this) {
            case OTHER_KEY_FIRST, SAME_KEY_FIRST -> pem(issuing(), credential.certificate());
            case WITHOUT_INTERMEDIATE -> pem(credential.certificate());
            default -> pem(credential.certificate(), issuing());
          };
      return new ServerFiles(
          folder,
          file(
              folder,
              "server.key",
              this == SEALED_KEY ? sealed(folder, credential) : keyPem(credential)),
          file(folder, "chain.pem", this == GLUED_CHAIN ? glued(chain) : chain),
          file(
              folder,
              "trust.pem",
              switch (this) {
                case WITHOUT_ROOT -> pem(issuing());
                case LIST_MISSING_ROOT_ONLY -> pem(root());
                case GLUED_TRUST -> glued(pem(root(), issuing()));
                default -> pem(root(), issuing());
              }),
          file(folder, "lists.pem", lists()));
    }

    /** As it comes of putting a file behind one without a line end. */
    private static byte[] glued(byte[] pem) {
      return new String(pem, StandardCharsets.US_ASCII)
          .replace("-----\n-----BEGIN", "----------BEGIN")
          .getBytes(StandardCharsets.US_ASCII);
    }

    private static byte[] sealed(Path folder, Credential credential) {
      Path open = file(folder, "open.key", keyPem(credential));
      Path into = folder.resolve("sealed.key");
      Run run =
          Run.of(
              "convert",
              open,
              "--into",
              into,
              "--seal",
              "file=" + file(folder, "sealed.pass", "rope-of-17\n"),
              "--replace");
      assertEquals(0, run.code(), run.err());
      try {
        return Files.readAllBytes(into);
      } catch (IOException e) {
        throw new java.io.UncheckedIOException(e);
      }
    }

    private byte[] lists() {
      RevocationList above = list(ROOT, List.of(), Duration.ZERO);
      return switch (this) {
        case LISTS -> all(list(ISSUING, List.of(), Duration.ZERO), above);
        case LIST_MISSING, LIST_MISSING_ROOT_ONLY -> all(list(ISSUING, List.of(), Duration.ZERO));
        case LIST_ENDED -> all(list(ISSUING, List.of(), Duration.ofDays(3)), above);
        case REVOKED ->
            all(
                list(
                    ISSUING,
                    List.of(
                        new Authority.Revocation(
                            BUOY.certificate().serial(), NOW, RevocationReason.KEY_COMPROMISE)),
                    Duration.ZERO),
                above);
        default -> new byte[0];
      };
    }

    private static byte[] all(RevocationList... lists) {
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      for (RevocationList list : lists) {
        out.writeBytes(PemWriter.write("X509 CRL", list.encoding()));
      }
      return out.toByteArray();
    }

    private static RevocationList list(
        Authority of, List<Authority.Revocation> revoked, Duration age) {
      return of.revocationList(
          revoked, BigInteger.ONE, NOW.minus(age).minusSeconds(60), Lifetime.days(1));
    }

    /** Lists can't be given to every server, and a keystore of ours is never in the wrong order. */
    private boolean appliesTo(JudgedServer server) {
      return switch (this) {
        case LISTS, LIST_MISSING, LIST_MISSING_ROOT_ONLY, LIST_ENDED, REVOKED ->
            server != JudgedServer.REDIS && server != JudgedServer.POSTFIX;
        case OTHER_KEY_FIRST, SAME_KEY_FIRST, GLUED_CHAIN, SEALED_KEY ->
            server != JudgedServer.JETTY;
        case GLUED_TRUST -> server != JudgedServer.JETTY && server != JudgedServer.TOMCAT;
        default -> true;
      };
    }
  }

  /** What a rehearsal says of this kind of server; nothing where it says nothing of it. */
  private Optional<Boolean> said(
      Circumstance circumstance, JudgedServer kind, ServerFiles files, Optional<Credential> client)
      throws IOException {
    List<Object> command =
        new ArrayList<>(
            List.of(
                "rehearse",
                "--json",
                "--unlock",
                "file=" + file(folder, "sealed.pass", "rope-of-17\n"),
                "--host",
                HOST,
                "--server",
                files.key(),
                files.chain()));
    command.addAll(List.of("--server-trust", files.trust()));
    if (files.hasLists()) {
      command.add(files.lists());
    }
    if (client.isPresent()) {
      command.addAll(
          List.of(
              "--client",
              file(folder, "client.key", keyPem(client.get())),
              file(folder, "client.pem", shown(client.get()))));
    }
    command.addAll(List.of("--client-trust", file(folder, "roots.pem", pem(root()))));
    JsonNode pair = Run.of(command.toArray()).json().at("/pairs/0");
    Optional<JsonNode> one =
        StreamSupport.stream(pair.at("/others").spliterator(), false)
            .filter(other -> other.get("server").asText().equals(kind.word()))
            .findFirst();
    // The server below is given the setting that is named, but for the password.
    return one.isPresent()
        ? one.map(
            other ->
                other.get("accepts").asBoolean()
                    || (other.hasNonNull("setting") && circumstance != Circumstance.SEALED_KEY))
        : pair.get("accepted").asBoolean() ? Optional.empty() : Optional.of(false);
  }

  private static byte[] shown(Credential client) {
    return client.certificate().issuer().equals(issuing().subject())
        ? pem(client.certificate(), issuing())
        : pem(client.certificate());
  }

  private Run probe(JudgedServer kind, int port, Optional<Credential> client) {
    List<Object> command =
        new ArrayList<>(
            List.of("probe", "127.0.0.1:" + port, "--host", HOST, "--json", "--one-handshake"));
    command.addAll(List.of("--trust", file(folder, "roots.pem", pem(root()))));
    switch (kind) {
      case POSTGRESQL -> command.addAll(List.of("--start-with", "postgresql"));
      case MARIADB -> command.addAll(List.of("--start-with", "mysql"));
      default -> {} // the others speak TLS from the beginning, and are recognised by what they say
    }
    client.ifPresent(
        one ->
            command.addAll(
                List.of(
                    "--credential",
                    file(folder, "client.key", keyPem(one)),
                    "--credential",
                    file(folder, "client.pem", shown(one)))));
    return Run.of(command.toArray());
  }

  /** What happened in one case. */
  private record Cell(Optional<Boolean> said, boolean served, Optional<Boolean> probed) {
    String text() {
      String happened = served ? "served" : "refused";
      return said.isEmpty()
          ? happened + ", not said"
          : said.get() == served ? happened : "DIFFERS: " + happened;
    }
  }

  private Cell judge(Circumstance circumstance, JudgedServer kind) throws IOException {
    ServerFiles files = circumstance.files(folder);
    Optional<Credential> client = circumstance.shownBy();
    Optional<Boolean> said = said(circumstance, kind, files, client);
    // Others show a chain as it is; ours is shown with the intermediate, as a client's file has it.
    Optional<Credential> whole =
        client.map(
            one ->
                one.certificate().issuer().equals(issuing().subject())
                    ? Credential.of(one.key(), List.of(one.certificate(), issuing()))
                    : one);
    boolean served;
    Optional<Boolean> probed = Optional.empty();
    try (RealServer server = kind.start(files)) {
      if (server.port() < 0) {
        throw new IOException("it opened no port");
      }
      served = kind.isServed(server, HOST, root(), whole);
      Run run = probe(kind, server.port(), client);
      probed = Optional.of(run.code() == 0);
      if (served != probed.get() && !isDecidedAtLogin(circumstance, kind)) {
        throw new AssertionError(run.out() + run.err() + server.log());
      }
    } catch (IOException e) {
      served = false; // it did not start
    }
    return new Cell(said, served, probed);
  }

  /**
   * A probe does not log in, and MariaDB asks for a certificate by account. Java's probe shows no
   * certificate of an authority that is not named.
   */
  private static boolean isDecidedAtLogin(Circumstance circumstance, JudgedServer kind) {
    return kind == JudgedServer.MARIADB && circumstance == Circumstance.NONE;
  }

  static Stream<Arguments> cases() {
    return Stream.of(JudgedServer.values())
        .flatMap(
            kind ->
                Stream.of(Circumstance.GOOD, other(kind))
                    .map(circumstance -> Arguments.of(circumstance, kind)));
  }

  /** The case in which this server differs most from others, or is most often wrong. */
  private static Circumstance other(JudgedServer kind) {
    return switch (kind) {
      case NGINX, POSTGRESQL -> Circumstance.LIST_MISSING;
      case HTTPD, MOSQUITTO -> Circumstance.SAME_KEY_FIRST;
      case HAPROXY -> Circumstance.WITHOUT_ROOT;
      case REDIS -> Circumstance.OTHER_KEY_FIRST;
      case OPENLDAP -> Circumstance.WRONG_USE;
      case POSTFIX, DOVECOT -> Circumstance.NONE;
      case MARIADB, TOMCAT -> Circumstance.REVOKED;
      case JETTY -> Circumstance.EXPIRED;
    };
  }

  @ParameterizedTest
  @MethodSource("cases")
  void whatIsSaidOfAServerIsWhatItDoes(Circumstance circumstance, JudgedServer kind)
      throws IOException {
    kind.assume();
    Cell cell = judge(circumstance, kind);
    assertEquals(cell.served(), cell.said().orElse(cell.served()), cell.toString());
    assertTrue(cell.said().isPresent() || circumstance != Circumstance.GOOD, cell.toString());
  }

  /** Every circumstance with every server; only where all are asked for. */
  @ParameterizedTest
  @EnumSource
  void theTableIsWholeAndRight(Circumstance circumstance) throws IOException {
    org.junit.jupiter.api.Assumptions.assumeTrue(
        Boolean.getBoolean("symbolon.servers"), "the whole table is made by ./check --servers");
    Map<JudgedServer, Cell> row = new EnumMap<>(JudgedServer.class);
    StringBuilder line = new StringBuilder("| " + circumstance.title + " |");
    for (JudgedServer kind : JudgedServer.values()) {
      kind.assume();
      String text = "not to be had";
      if (circumstance.appliesTo(kind)) {
        Path own = Files.createDirectory(folder.resolve(kind.word()));
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx--x--x"));
        Path before = folder;
        folder = own;
        Cell cell = judge(circumstance, kind);
        folder = before;
        row.put(kind, cell);
        text = cell.text();
      }
      line.append(' ').append(text).append(" |");
    }
    Path table =
        Path.of("target", "servers-" + circumstance.name().toLowerCase(Locale.ROOT) + ".md");
    Files.writeString(table, line.append('\n'));
    System.out.println(line);
    assertTrue(!line.toString().contains("DIFFERS"), row.toString());
  }
}
