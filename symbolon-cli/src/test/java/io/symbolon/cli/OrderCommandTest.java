// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The observatory's own authority answers, and its hosts order, renew and look at what is due. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
@SuppressWarnings("NullAway.Init") // made before each test
class OrderCommandTest {
  private static final String INGEST = "ingest.lanternfish.example";

  @TempDir Path temp;
  private ServedAuthority authority;
  private int port;
  private int httpPort;

  @BeforeEach
  void serve() throws Exception {
    authority = new ServedAuthority(temp, INGEST, "b.lanternfish.example");
    port = authority.port();
    httpPort = authority.httpPort();
  }

  @AfterEach
  void stop() {
    authority.close();
  }

  private Run order(Object... more) {
    return authority.order(temp.resolve("account"), more);
  }

  private X509Certificate stored(String alias) throws Exception {
    KeyStore store = KeyStore.getInstance("PKCS12");
    String password = Files.readString(temp.resolve("ingest.pw")).strip();
    try (var in = Files.newInputStream(temp.resolve("ingest.p12"))) {
      store.load(in, password.toCharArray());
    }
    assertTrue(store.isKeyEntry(alias), Collections.list(store.aliases()) + "");
    return (X509Certificate) store.getCertificate(alias);
  }

  @Test
  void anOrderThatIsRefusedLeavesNothingThatIsTriedAgain() throws Exception {
    Object[] good = {
      "--host",
      "ingest.lanternfish.example",
      "--into",
      temp.resolve("ingest.p12"),
      "--seal",
      "new=" + temp.resolve("ingest.pw"),
      "--agree"
    };
    Run refused =
        order(
            "--host",
            "stranger.example",
            "--into",
            temp.resolve("ingest.p12"),
            "--seal",
            "new=" + temp.resolve("never.pw"),
            "--agree");
    assertEquals(1, refused.code(), refused.err());
    Path account = temp.resolve("account");
    assertEquals(
        0,
        Run.of("order", "account", "--account", account, "--json")
            .json()
            .get("certificates")
            .size());
    assertEquals(0, order(good).code());
    Run renewed = Run.of("renew", "--account", account);
    assertEquals(0, renewed.code(), renewed.out() + renewed.err());
    Run listed = Run.of("order", "account", "--account", account);
    assertTrue(listed.out().contains("obtained    ingest.lanternfish.example"), listed.out());
    Run forgotten =
        Run.of("order", "account", "--account", account, "--forget", "ingest.lanternfish.example");
    assertEquals(0, forgotten.code(), forgotten.err());
    assertEquals(
        0,
        Run.of("order", "account", "--account", account, "--json")
            .json()
            .get("certificates")
            .size());
    assertEquals(
        4,
        Run.of("order", "account", "--account", account, "--forget", "ingest.lanternfish.example")
            .code());
  }

  @Test
  void anAccountThatSomebodyElseCanWriteIsNotWorkedWith() throws Exception {
    org.junit.jupiter.api.Assumptions.assumeTrue(
        Files.getOwner(Path.of("/proc/self")).getName().equals("root"), "needs root");
    assertEquals(
        0,
        order(
                "--host",
                "ingest.lanternfish.example",
                "--into",
                temp.resolve("ingest.p12"),
                "--seal",
                "new=" + temp.resolve("ingest.pw"),
                "--agree")
            .code());
    Path account = temp.resolve("account");
    Path stored = account.resolve("ingest.lanternfish.example.order.json");
    Files.setOwner(
        stored,
        temp.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("nobody"));
    Run refused = Run.of("renew", "--account", account);
    assertEquals(4, refused.code(), refused.out() + refused.err());
    assertTrue(refused.err().contains(stored + " belongs to the account nobody"), refused.err());
    assertEquals(0, Run.of("due", account, "--within", "1d").code(), "it can be looked at");
  }

  @Test
  void whatAnEarlierVersionStoredIsRenewedAndStoredAnew() throws Exception {
    Path store = temp.resolve("ingest.p12");
    Path password = temp.resolve("ingest.pw");
    Run ordered =
        order("--host", INGEST, "--into", store, "--seal", "new=" + password, "--agree").expect(0);
    Path stored = temp.resolve("account").resolve(INGEST + ".order.json");
    ObjectMapper json = new ObjectMapper();
    ObjectNode today = (ObjectNode) json.readTree(Files.readAllBytes(stored));
    ObjectNode job = (ObjectNode) today.remove("job");
    Schemas.check("stored-renewal", job);
    assertEquals(2, job.get("version").asInt(), ordered.out());
    assertFalse(job.toString().contains("--"), job.toString());
    ArrayNode options = today.putArray("options");
    List.of("--host", INGEST, "--into", store.toString(), "--seal", "file=" + password)
        .forEach(options::add);
    for (JsonNode proof : job.path("proofs")) {
      options.add("--proof");
      options.add(proof.get("kind").asText() + "=" + proof.path("value").asText());
    }
    Files.write(stored, json.writeValueAsBytes(today));
    byte[] before = Files.readAllBytes(store);
    String place = Run.of("order", "account", "--account", temp.resolve("account")).out();
    assertTrue(place.contains(store.toString()), place);
    Run.of("renew", "--account", temp.resolve("account"), "--within", "900d").expect(0);
    assertFalse(Arrays.equals(before, Files.readAllBytes(store)), "renewed");
    JsonNode anew = json.readTree(Files.readAllBytes(stored));
    assertFalse(anew.has("options"), anew.toString());
    assertEquals(job, anew.get("job"));
  }

  @Test
  void aServerThatShowsNoCertificateIsAProblemOfDue() throws Exception {
    try (java.net.ServerSocket plain =
        new java.net.ServerSocket(0, 50, InetAddress.getLoopbackAddress())) {
      Thread answers =
          new Thread(
              () -> {
                try {
                  while (true) {
                    Socket one = plain.accept();
                    one.getOutputStream()
                        .write(
                            "HTTP/1.1 400 Bad Request\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
                    one.close();
                  }
                } catch (IOException e) {
                  // the test is over
                }
              });
      answers.setDaemon(true);
      answers.start();
      Run due = Run.of("due", "127.0.0.1:" + plain.getLocalPort());
      assertEquals(1, due.code(), due.out());
      assertFalse(due.out().startsWith("Nothing is due"), due.out());
      Path metrics = temp.resolve("due.prom");
      assertEquals(1, Run.of("due", "127.0.0.1:" + plain.getLocalPort(), "--into", metrics).code());
      assertTrue(Files.readString(metrics).contains("symbolon_not_looked_at 1"));
    }
  }

  /** The database of the folder is open in the process that serves: others work through it. */
  @Test
  void otherCommandsUseTheRecordsMeanwhile() throws Exception {
    Path root = temp.resolve("root");
    Run issued =
        Run.of(
            "authority",
            "issue",
            "--by",
            root,
            "--unlock",
            "file=" + temp.resolve("root.pw"),
            "--host",
            "beside.lanternfish.example",
            "--into",
            temp.resolve("beside.p12"),
            "--seal",
            "new=" + temp.resolve("beside.pw"));
    assertEquals(0, issued.code(), issued.err());
    Run list = Run.of("authority", "list", root);
    assertTrue(list.out().contains("beside.lanternfish.example"), list.out());
    Run revoked =
        Run.of(
            "authority",
            "revoke",
            "beside.lanternfish.example",
            "--by",
            root,
            "--unlock",
            "file=" + temp.resolve("root.pw"));
    assertEquals(0, revoked.code(), revoked.err());
    Run records = Run.of("authority", "records", root, "--json");
    assertEquals("folder", records.json().get("place").asText());
    assertEquals(1, records.json().get("revoked").asInt());
    assertTrue(records.json().get("whole").asBoolean());
    Run second =
        Run.of(
            "authority",
            "serve",
            "--by",
            root,
            "--unlock",
            "file=" + temp.resolve("root.pw"),
            "--host",
            "127.0.0.1",
            "--listen",
            "127.0.0.1:" + FreePort.take());
    assertEquals(4, second.code(), second.err());
    assertTrue(second.err().contains("Another process has them open"), second.err());
    stop();
    Run moved =
        Run.of(
            "authority",
            "records",
            root,
            "--into",
            "files",
            "--unlock",
            "file=" + temp.resolve("root.pw"));
    assertEquals(0, moved.code(), moved.err());
    assertTrue(moved.out().contains("the files of "), moved.out());
    Run page = Run.of("authority", "list", root, "--page", "1", "--json");
    assertEquals(2, page.json().get("authority").get("issued").size());
    assertEquals(2, Run.of("authority", "list", root, "--page", "2").code());
    assertEquals(2, Run.of("authority", "records", root, "--into", "nowhere").code());
    String url = "jdbc:postgresql://127.0.0.1:1/none?user=a&password=kelp-forest-17";
    Run nobody =
        Run.of(
            "authority",
            "records",
            root,
            "--into",
            url,
            "--unlock",
            "file=" + temp.resolve("root.pw"));
    assertEquals(4, nobody.code(), nobody.err());
    assertFalse(nobody.err().contains("kelp-forest-17"), nobody.err());
    assertTrue(Run.of("authority", "records", root).out().contains("the files of "));
  }

  /** Part by part: what can't be used is asked for again, and the command line does the same. */
  @Test
  void whoTypesNothingIsAsked() throws Exception {
    Path into = temp.resolve("asked.p12");
    List<String> answers =
        List.of(
            temp.resolve("asked account").toString(),
            "http://127.0.0.1/", // no HTTPS
            "https://127.0.0.1:" + port + "/directory",
            temp.resolve("nothing.pem").toString(),
            temp.resolve("root/authority.pem").toString(),
            "",
            "", // no host
            "*.lanternfish.example",
            "",
            "listen", // can't prove all hosts of a domain
            "<",
            "<",
            INGEST,
            "",
            "listen=127.0.0.1:" + httpPort,
            into + ".p7b",
            into.toString(),
            "ask", // nobody is there at a renewal
            "new=" + into,
            "new=" + temp.resolve("asked.pw"),
            "no-such-server",
            "",
            "yes",
            "yes"); // to the terms
    Run run = Run.with(Map.of("ATTENDED", "yes"), answers, "order");
    assertEquals(0, run.code(), run.err() + run.out());
    for (String said :
        List.of(
            "begins with https://",
            "There is no such file",
            "It can't be left out",
            "can't prove the hosts of a domain",
            "is not a file for a private key",
            "A timer can't ask",
            "The keystore goes there",
            "There is no server",
            "This will be ordered",
            "Obtained " + INGEST)) {
      assertTrue(run.out().replaceAll("\\s+", " ").contains(said), said + " in " + run.out());
    }
    assertTrue(Files.exists(into) && Files.exists(temp.resolve("asked.pw")));

    // The command line that was shown, as it is: it orders again into the same keystore.
    String line =
        run.out()
            .lines()
            .filter(one -> one.contains("symbolon order "))
            .findFirst()
            .orElseThrow()
            .strip();
    List<String> words = new ArrayList<>();
    for (String word : line.replace("'", "").split(" (?=--)", -1)) {
      words.addAll(List.of(word.split(" ", 2)));
    }
    words.replaceAll(word -> word.startsWith("new=") ? word.replace("new=", "file=") : word);
    Run again = Run.of(words.subList(1, words.size()).toArray());
    assertEquals(0, again.code(), line + "\n" + again.err());

    List<String> no = new ArrayList<>(List.of(temp.resolve("asked account").toString(), INGEST));
    no.addAll(
        List.of("", "listen=127.0.0.1:" + httpPort, temp.resolve("n.p12") + "", "", "", "no"));
    Run refused = Run.with(Map.of("ATTENDED", "yes"), no, "order");
    assertTrue(refused.out().contains("Nothing was ordered."), refused.out());
    Run cut = Run.with(Map.of("ATTENDED", "yes"), no.subList(0, 3), "order");
    assertEquals(2, cut.code());
    assertTrue(cut.err().contains("--host " + INGEST), cut.err());
    assertEquals(2, Run.of("order").code(), "nobody is asked where nobody is");
  }

  @Test
  void aKeystoreIsOrderedRenewedInPlaceAndLookedAt() throws Exception {
    Path into = temp.resolve("ingest.p12");
    Run terms =
        order("--host", INGEST, "--into", into, "--seal", "new=" + temp.resolve("ingest.pw"));
    assertEquals(2, terms.code(), terms.err());
    assertTrue(terms.err().contains("--agree"), terms.err());
    assertFalse(Files.exists(temp.resolve("account")), "nothing is left of a refusal");

    Run first =
        order(
            "--agree",
            "--host",
            INGEST,
            "--into",
            into,
            "--seal",
            "new=" + temp.resolve("ingest.pw"),
            "--json");
    assertEquals(0, first.code(), first.out() + first.err());
    assertEquals(INGEST, first.json().at("/credential/hosts/0").asText());
    X509Certificate before = stored("ingest");
    try (Stream<Path> files = Files.list(temp.resolve("account"))) {
      assertEquals(
          List.of(
              "authority.json",
              "folder.password",
              INGEST + ".order.json",
              "signing.key",
              "trust.pem"),
          files.map(one -> one.getFileName().toString()).sorted().toList(),
          "no key waits any more");
    }

    // Nothing is due: quiet. Then it is: another key under the same alias, and undo brings it back.
    Run quiet = Run.of("renew", "--account", temp.resolve("account"));
    assertEquals(0, quiet.code(), quiet.err());
    assertEquals("", quiet.out());
    Run renewed =
        Run.of("renew", "--account", temp.resolve("account"), "--within", "100d", "--json");
    assertEquals(0, renewed.code(), renewed.out() + renewed.err());
    assertEquals("renewed", renewed.json().at("/certificates/0/outcome").asText());
    X509Certificate after = stored("ingest");
    assertNotEquals(before.getPublicKey(), after.getPublicKey());
    assertEquals(0, Run.of("undo", into).code());
    assertEquals(before, stored("ingest"));

    // One that fails does not stop the others, and is told.
    Run other =
        order("--host", "b.lanternfish.example", "--into", temp.resolve("b.pem"), "--unsealed");
    assertEquals(0, other.code(), other.out() + other.err());
    Files.writeString(temp.resolve("ingest.pw"), "another password\n");
    Run partly = Run.of("renew", "--account", temp.resolve("account"), "--within", "100d");
    assertEquals(1, partly.code(), partly.out() + partly.err());
    assertTrue(partly.out().contains("renewed  b.lanternfish.example"), partly.out());
    assertTrue(partly.out().contains("renewal-failed"), partly.out());

    Run refused = order("--host", "kelp.example", "--into", temp.resolve("k.pem"), "--unsealed");
    assertEquals(1, refused.code(), refused.out() + refused.err());
    assertTrue(refused.err().contains("rejectedIdentifier"), refused.err());
    assertFalse(Files.exists(temp.resolve("k.pem")));

    due();
    account();
  }

  private void account() throws IOException {
    Object folder = temp.resolve("account");
    Run shown = Run.of("order", "account", "--account", folder, "--json");
    assertEquals(0, shown.code(), shown.out() + shown.err());
    String before = shown.json().get("thumbprint").asText();
    assertEquals(43, before.length());
    Run changed =
        Run.of("order", "account", "--account", folder, "--new-key", "--contact", "b@c.example");
    assertEquals(0, changed.code(), changed.out() + changed.err());
    Run after = Run.of("order", "account", "--account", folder, "--json");
    assertNotEquals(before, after.json().get("thumbprint").asText());
    assertFalse(Files.exists(temp.resolve("account/signing.key.next")));
    // Killed before the authority was told: the key of before is the one that counts.
    Files.copy(temp.resolve("account/signing.key"), temp.resolve("account/signing.key.next"));
    assertEquals(0, Run.of("order", "account", "--account", folder).code());
    assertFalse(Files.exists(temp.resolve("account/signing.key.next")));
    assertEquals(2, Run.of("order", "account", "--account", folder, "--give-up").code(), "asked");
    assertEquals(0, Run.of("order", "account", "--account", folder, "--give-up", "--agree").code());
    Run over = Run.of("renew", "--account", folder, "--within", "100d");
    assertEquals(1, over.code(), over.out() + over.err());
  }

  private void due() throws IOException {
    Object[] where = {temp.resolve("account"), temp.resolve("root"), "127.0.0.1:" + port};
    Run later = Run.of("due", where[0], where[1], where[2], "--json");
    assertEquals(0, later.code(), later.out() + later.err());
    var endings = later.json().get("endings");
    for (int i = 1; i < endings.size(); i++) {
      String one = endings.get(i - 1).get("ends").asText();
      assertTrue(one.compareTo(endings.get(i).get("ends").asText()) <= 0, "soonest first");
    }
    Run soon = Run.of("due", where[0], where[1], "--within", "120d");
    assertEquals(1, soon.code());
    assertTrue(soon.out().contains("symbolon renew --account"), soon.out());
    Run page =
        Run.of("due", where[0], where[1], "--within", "120d", "--into", temp.resolve("due.html"));
    assertEquals(1, page.code(), page.err());
    String html = Files.readString(temp.resolve("due.html"));
    assertTrue(html.contains("<svg") && html.contains(INGEST) && !html.contains("http://"), html);
    Run metrics = Run.of("due", where[0], "--into", temp.resolve("due.prom"));
    assertEquals(0, metrics.code(), metrics.err());
    String text = Files.readString(temp.resolve("due.prom"));
    assertTrue(text.endsWith("# EOF\n") && text.contains("name=\"" + INGEST + "\""), text);
    assertEquals(4, Run.of("due", where[0], "--into", temp.resolve("due.prom")).code(), "kept");
    Run nobody = Run.of("due", "127.0.0.1:1", "--json");
    assertEquals(1, nobody.code());
    assertEquals(List.of("no-answer"), nobody.findingIds());
  }
}
