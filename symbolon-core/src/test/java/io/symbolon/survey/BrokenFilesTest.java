// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Ber;
import io.symbolon.der.Element;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.FileBreaker;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.WorkBudget;
import io.symbolon.pem.BareBase64;
import io.symbolon.pem.PemReader;
import io.symbolon.seal.HeaderProtection;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.store.Pkcs12Reader;
import io.symbolon.store.Pkcs7;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.ExtensionText;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.StatusResponse;
import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.List;
import java.util.function.Consumer;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Whatever a file holds, our readers end in nothing but our own exception, in bounded time. The
 * seed is fixed, so a failure repeats. Long runs: {@code mvn test -Dtest=BrokenFilesTest
 * -Dmutation.rounds=100000 -Dmutation.seed=7}, or the main method for one reader and so many
 * seconds.
 */
class BrokenFilesTest {
  private static final List<Secret> UNLOCK = List.of(secret("geheim"));
  private static final ThreadMXBean THREADS = ManagementFactory.getThreadMXBean();
  private static final long SLOW = 20_000; // milliseconds: hangs are looked for, not slowness
  private static final long ROUNDS_A_SECOND = 50_000;

  /** A reader, told from the others by the files it is tried with. */
  enum Reader {
    DER(
        1500,
        bytes -> {
          Element.readFirst(bytes, 0);
          attempt(() -> Element.read(Ber.toDefinite(bytes)));
        }),
    PEM(
        1000,
        bytes -> {
          PemReader.read(bytes);
          BareBase64.decode(bytes);
          HeaderProtection.read(new String(bytes, java.nio.charset.StandardCharsets.ISO_8859_1));
        }),
    PKCS12(120, bytes -> Pkcs12Reader.read(bytes, UNLOCK)),
    JKS(200, bytes -> JavaStoreReader.read(bytes, UNLOCK)),
    PKCS7(500, bytes -> Pkcs7.read(bytes)),
    KEYS(
        200,
        bytes -> {
          attempt(() -> PrivateKeyInfo.readPkcs8(bytes).toPrivateKey());
          attempt(() -> PrivateKeyInfo.readPkcs1(bytes).toPrivateKey());
          attempt(() -> PrivateKeyInfo.readSec1(bytes).toPrivateKey());
          attempt(() -> PrivateKeyInfo.readDsa(bytes).toPrivateKey());
          attempt(() -> SubjectPublicKeyInfo.read(bytes).toPublicKey());
          EncryptedPrivateKeyInfo.read(Element.read(bytes)).open(UNLOCK.get(0));
        }),
    CERTIFICATES(
        500,
        bytes -> {
          attempt(() -> CertificateRequest.read(bytes).verify());
          attempt(() -> describe(RevocationList.read(bytes)));
          attempt(() -> StatusResponse.read(bytes).verify(issuing()));
          Certificate certificate = Certificate.readWhole(bytes);
          certificate.alternativeNames();
          certificate.extensions().damaged();
          certificate.extensions().all().forEach(ExtensionText::values);
          certificate.subject().shortText();
          certificate.verify(certificate);
        });

    @SuppressWarnings("ImmutableEnumChecker") // a function without state
    private final Consumer<byte[]> reader;

    private final int rounds; // of an ordinary run: a second or two

    Reader(int rounds, Consumer<byte[]> reader) {
      this.rounds = rounds;
      this.reader = reader;
    }
  }

  private static void describe(RevocationList list) {
    list.extensions().all().forEach(ExtensionText::values);
    list.revoked(100).forEach(one -> one.extensions().all().forEach(ExtensionText::values));
  }

  private static void attempt(Runnable reading) {
    try {
      reading.run();
    } catch (SymbolonException expected) {
      // The next reader is tried with the same octets.
    }
  }

  @ParameterizedTest
  @EnumSource
  void nothingButOurOwnExceptionComesOut(Reader reader) throws Exception {
    long rounds = Long.getLong("symbolon.mutation.rounds", 0);
    Tally tally =
        run(
            reader,
            rounds > 0 ? rounds : reader.rounds,
            Long.MAX_VALUE,
            Long.getLong("symbolon.mutation.seed", 42));
    assertTrue(tally.readable > tally.rounds / 50, tally + ": too few could still be read");
  }

  private record Tally(long rounds, long readable) {}

  /** So many rounds, or as many as there is time for. */
  private static Tally run(Reader reader, long most, long seconds, long seed) throws Exception {
    FileBreaker mutator = new FileBreaker(seed, Seeds.of(reader));
    long start = System.nanoTime();
    long rounds = 0;
    long readable = 0;
    while (rounds < most && (System.nanoTime() - start) / 1_000_000_000L < seconds) {
      byte[] input = mutator.next();
      try {
        attempt(() -> reader.reader.accept(input));
        readable += survey(input) ? 1 : 0;
      } catch (RuntimeException | Error e) {
        throw new AssertionError("round " + rounds + " for " + HexFormat.of().formatHex(input), e);
      }
      rounds++;
    }
    return new Tally(rounds, readable);
  }

  private static boolean survey(byte[] input) {
    long started = THREADS.getCurrentThreadCpuTime(); // a busy machine is no fault of the reader
    WorkBudget budget = WorkBudget.full();
    budget.wasRead(input.length);
    FileSurvey file = new ContentReader(UNLOCK, budget).read(Path.of("x"), input);
    Survey survey =
        Survey.of(
            List.of(file),
            List.of(),
            List.of(),
            List.of(HostName.parse("ingest.lanternfish.example")),
            new CertificateJudge(NOW),
            SystemRoots.none(),
            budget);
    StringBuilder shown = new StringBuilder(survey.findings().toString());
    survey.nextSteps().forEach(step -> shown.append(step.action()).append(step.why()));
    survey.matches().forEach(match -> shown.append(match.description()));
    assertFalse(shown.toString().contains("\u001B"), "a control character was not made visible");
    long millis = (THREADS.getCurrentThreadCpuTime() - started) / 1_000_000;
    long asked = file.protections().stream().mapToLong(ProtectionWorth::rounds).sum();
    long allowed = SLOW + 1_000 * asked * (UNLOCK.size() + 1) * 2 / ROUNDS_A_SECOND;
    assertTrue(millis < allowed, millis + " ms, with " + asked + " rounds asked for");
    return !file.isEmpty();
  }

  /** A long run of one reader: its name, the seconds, the seed. */
  public static void main(String[] arguments) throws Exception {
    Reader reader = Reader.valueOf(arguments[0]);
    Tally tally =
        run(reader, Long.MAX_VALUE, Long.parseLong(arguments[1]), Long.parseLong(arguments[2]));
    java.util.logging.Logger.getLogger("mutation").info(reader + ": " + tally);
  }
}
