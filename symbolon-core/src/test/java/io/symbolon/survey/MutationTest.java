package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.pem.PemWriter;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * Real files, changed in ways that follow their structure: octets flipped, lengths and tags
 * replaced, parts repeated, removed and swapped between files. Reading and judging them must never
 * end in another exception than our own, which a survey turns into findings. The seed is fixed, so
 * a failure repeats; {@code mvn test -Dtest=MutationTest -Dmutation.seconds=1800 -Dmutation.seed=7}
 * makes a long run of it.
 */
class MutationTest {
  private static final List<Secret> UNLOCK = List.of(secret("geheim"));

  private final Random random = new Random(Long.getLong("symbolon.mutation.seed", 42));
  private final List<byte[]> seeds = new ArrayList<>();

  @Test
  void whateverAFileHoldsASurveyIsMade() throws Exception {
    fillSeeds();
    long seconds = Long.getLong("symbolon.mutation.seconds", 6);
    long end = System.nanoTime() + seconds * 1_000_000_000L;
    int rounds = 0;
    int readable = 0;
    while (System.nanoTime() < end) {
      byte[] input = mutated(seeds.get(random.nextInt(seeds.size())));
      long started = System.nanoTime();
      readable += survey(input) ? 1 : 0;
      long millis = (System.nanoTime() - started) / 1_000_000;
      assertTrue(millis < 5_000, () -> millis + " ms for " + HexFormat.of().formatHex(input));
      rounds++;
    }
    assertTrue(rounds > 100, rounds + " rounds");
    assertTrue(readable > rounds / 20, readable + " of " + rounds + " could still be read");
  }

  private static boolean survey(byte[] input) {
    try {
      FileSurvey file = new ContentReader(UNLOCK).read(Path.of("x"), input);
      Survey survey =
          Survey.of(
              List.of(file),
              List.of(),
              List.of(),
              List.of(HostName.parse("ingest.lanternfish.example")),
              NOW,
              SystemRoots.none());
      StringBuilder shown = new StringBuilder(survey.findings().toString());
      survey.nextSteps().forEach(step -> shown.append(step.commandLine()).append(step.why()));
      survey.matches().forEach(match -> shown.append(match.description()));
      String told = shown.toString();
      assertFalse(told.contains("\u001B"), "a control character was not made visible");
      return !file.isEmpty();
    } catch (RuntimeException | StackOverflowError e) {
      throw new AssertionError("for " + HexFormat.of().formatHex(input), e);
    }
  }

  private void fillSeeds() throws Exception {
    seeds.add(INGEST.certificate().encoding());
    seeds.add(root().encoding());
    seeds.add(pem(root(), INGEST.certificate(), issuing()));
    seeds.add(keyPem(INGEST));
    seeds.add(keyPem(CATALOGUE));
    seeds.add(CATALOGUE.key().revealPkcs8());
    seeds.add(PemWriter.write("PUBLIC KEY", INGEST.certificate().publicKey().encoding()));
    seeds.add(
        Der.sequence(
            Der.oid(Oids.SIGNED_DATA),
            Der.context(
                0,
                Der.sequence(
                    Der.integer(1),
                    Der.setOf(List.of()),
                    Der.sequence(Der.oid(Oids.DATA)),
                    Der.context(0, INGEST.certificate().encoding(), issuing().encoding()),
                    Der.setOf(List.of())))));
    for (String type : List.of("JKS", "JCEKS", "PKCS12")) {
      System.setProperty("keystore.pkcs12.macIterationCount", "5");
      System.setProperty("keystore.pkcs12.certPbeIterationCount", "5");
      System.setProperty("keystore.pkcs12.keyPbeIterationCount", "5");
      KeyStore store = KeyStore.getInstance(type);
      store.load(null, null);
      store.setKeyEntry(
          "catalogue",
          CATALOGUE.key().toPrivateKey(),
          "geheim".toCharArray(),
          CATALOGUE.chain().stream()
              .map(Certificate::toX509Certificate)
              .toArray(java.security.cert.Certificate[]::new));
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      store.store(out, "geheim".toCharArray());
      seeds.add(out.toByteArray());
    }
    for (String name : List.of("mac", "certPbe", "keyPbe")) {
      System.clearProperty("keystore.pkcs12." + name + "IterationCount");
    }
  }

  private byte[] mutated(byte[] seed) {
    byte[] input = seed.clone();
    int changes = 1 + random.nextInt(4);
    for (int i = 0; i < changes && input.length > 8; i++) {
      int at = random.nextInt(input.length);
      int length = Math.min(1 + random.nextInt(40), input.length - at);
      switch (random.nextInt(8)) {
        case 0 -> input[at] = (byte) random.nextInt();
        case 1 -> input[at] ^= (byte) (1 << random.nextInt(8));
        case 2 -> input[at] = TELLING[random.nextInt(TELLING.length)];
        case 3 -> input = Arrays.copyOf(input, at); // cut
        case 4 -> input = spliced(input, at, at, Arrays.copyOfRange(input, at, at + length));
        case 5 -> input = spliced(input, at, at + length, new byte[0]);
        case 6 -> {
          byte[] other = seeds.get(random.nextInt(seeds.size()));
          int from = random.nextInt(other.length);
          byte[] part =
              Arrays.copyOfRange(other, from, Math.min(other.length, from + random.nextInt(400)));
          input = spliced(input, at, Math.min(input.length, at + part.length), part);
        }
        default -> input[Math.min(input.length - 1, random.nextInt(12))] = (byte) random.nextInt();
      }
    }
    return input;
  }

  /** Octets that mean something in DER: tags, long and indefinite lengths, extremes. */
  private static final byte[] TELLING = {
    0x30,
    0x31,
    0x02,
    0x03,
    0x04,
    0x05,
    0x06,
    0x0C,
    0x17,
    0x1F,
    0x00,
    0x7F,
    (byte) 0x80,
    (byte) 0x81,
    (byte) 0x82,
    (byte) 0x84,
    (byte) 0xA0,
    (byte) 0xA3,
    (byte) 0xFF,
    '-',
    '\n',
    ':',
    0x1B
  };

  private static byte[] spliced(byte[] input, int from, int to, byte[] part) {
    byte[] out = new byte[input.length - (to - from) + part.length];
    System.arraycopy(input, 0, out, 0, from);
    System.arraycopy(part, 0, out, from, part.length);
    System.arraycopy(input, to, out, from + part.length, input.length - to);
    return out;
  }
}
